import { Menu, MenuButton, MenuItem, MenuItems, Button as Plain } from "@headlessui/react";
import { memo } from "react";
import { NavLink, useLocation } from "react-router";
import { PAGES } from "./Header";
import { useShell } from "../components/shell";

const AT_HAND = 4;
const tab = "flex min-w-11 grow items-center justify-center border-t-4 border-transparent py-3";

/** The pages and Weigh within a thumb's reach, on phones alone; the pages that are for the desk stand under More. */
export const BottomBar = memo(function BottomBar() {
  const { weigh } = useShell();
  return (
    <div className="fixed inset-x-0 bottom-0 z-10 flex items-stretch bg-head text-on-head sm:hidden print:hidden">
      <nav aria-label="Pages, by thumb" className="flex grow">
        {PAGES.slice(0, AT_HAND).map((page) => (
          <NavLink
            key={page.to}
            to={page.to}
            end={page.to === "/"}
            className={`${tab} aria-[current=page]:border-on-head`}
          >
            {page.name}
          </NavLink>
        ))}
        <More />
      </nav>
      <Plain
        className="m-1.5 bg-on-head px-5 font-bold text-head"
        onClick={() => {
          weigh();
        }}
      >
        Weigh
      </Plain>
    </div>
  );
});

function More() {
  const { pathname } = useLocation();
  const pages = PAGES.slice(AT_HAND);
  const here = pages.find((page) => pathname.startsWith(page.to));
  return (
    <Menu>
      <MenuButton className={`${tab} ${here ? "border-on-head" : ""}`}>{here?.name ?? "More"}</MenuButton>
      <MenuItems
        modal={false}
        anchor="top end"
        className="z-20 min-w-40 border-2 border-ink bg-paper py-1 text-ink outline-none"
        aria-label="More pages"
      >
        <MenuItem>
          <NavLink to="/scan" className="block px-4 py-2.5 data-focus:bg-ground">
            Scan labels
          </NavLink>
        </MenuItem>
        {pages.map((page) => (
          <MenuItem key={page.to}>
            <NavLink to={page.to} className="block px-4 py-2.5 data-focus:bg-ground">
              {page.name}
            </NavLink>
          </MenuItem>
        ))}
      </MenuItems>
    </Menu>
  );
}
