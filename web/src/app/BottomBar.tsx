import { Button } from "@headlessui/react";
import { NavLink } from "react-router";
import { ROOMS } from "./Header";
import { useShell } from "../components/shell";

/** The rooms and Weigh within a thumb's reach, on phones alone; Materials stands in Settings there. */
export function BottomBar() {
  const { weigh } = useShell();
  return (
    <div className="fixed inset-x-0 bottom-0 z-10 flex items-stretch bg-head text-on-head sm:hidden print:hidden">
      <nav aria-label="Rooms, by thumb" className="flex grow">
        {ROOMS.filter((it) => it.to !== "/materials").map((it) => (
          <NavLink
            key={it.to}
            to={it.to}
            end={it.to === "/"}
            className="grow border-t-4 border-transparent py-3 text-center aria-[current=page]:border-on-head"
          >
            {it.name}
          </NavLink>
        ))}
      </nav>
      <Button
        className="m-1.5 bg-on-head px-7 font-bold text-head"
        onClick={() => {
          weigh();
        }}
      >
        Weigh
      </Button>
    </div>
  );
}
