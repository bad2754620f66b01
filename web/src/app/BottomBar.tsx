import { Button as Plain } from "@headlessui/react";
import { NavLink } from "react-router";
import { PAGES } from "./Header";
import { useShell } from "../components/shell";

/** The pages and Weigh within a thumb's reach, on phones alone; Materials stands in Settings there. */
export function BottomBar() {
  const { weigh } = useShell();
  return (
    <div className="fixed inset-x-0 bottom-0 z-10 flex items-stretch bg-head text-on-head sm:hidden print:hidden">
      <nav aria-label="Pages, by thumb" className="flex grow">
        {PAGES.filter((page) => page.to !== "/materials").map((page) => (
          <NavLink
            key={page.to}
            to={page.to}
            end={page.to === "/"}
            className="min-w-11 grow border-t-4 border-transparent py-3 text-center aria-[current=page]:border-on-head"
          >
            {page.name}
          </NavLink>
        ))}
      </nav>
      <Plain
        className="m-1.5 bg-on-head px-7 font-bold text-head"
        onClick={() => {
          weigh();
        }}
      >
        Weigh
      </Plain>
    </div>
  );
}
