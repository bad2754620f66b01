import { Menu, MenuButton, MenuItem, MenuItems, Button as Plain } from "@headlessui/react";
import { useQuery } from "@tanstack/react-query";
import { memo } from "react";
import { Link, NavLink } from "react-router";
import { useSignOut } from "../features/people/acts";
import { session } from "../features/people/queries";
import { room } from "../features/storage/queries";
import { fixed } from "../domain/numbers";
import { temp } from "../domain/quantities";
import { tempUnit, toTemp } from "../domain/units";
import { since } from "../domain/times";
import { useShell } from "../components/shell";
import { chooseTheme, THEMES, useTheme } from "./theme";

export const PAGES = [
  { to: "/", name: "Rack" },
  { to: "/plan", name: "Plan" },
  { to: "/schedule", name: "Schedule" },
  { to: "/runs", name: "Runs" },
  { to: "/cases", name: "Cases" },
  { to: "/storage", name: "Storage" },
  { to: "/trials", name: "Trials" },
  { to: "/kit", name: "Kit" },
  { to: "/materials", name: "Materials" },
];

interface MenuActs {
  onBackups: () => void;
  onKeys: () => void;
  onPreferences: () => void;
}

/** The bar over every room: where one is, the room's air, and Weigh. */
export const Header = memo(function Header({ onBackups, onKeys, onPreferences }: MenuActs) {
  const { weigh } = useShell();
  return (
    <header className="bg-head text-on-head print:hidden">
      <div className="mx-auto flex h-[52px] max-w-[1440px] items-stretch gap-6 px-5">
        <span className="self-center text-xl font-bold tracking-tight">darre</span>
        <nav aria-label="Pages" className="hidden gap-1 sm:flex">
          {PAGES.map((page) => (
            <NavLink
              key={page.to}
              to={page.to}
              end={page.to === "/"}
              className="flex items-center border-b-4 border-transparent px-2 aria-[current=page]:border-on-head"
            >
              {page.name}
            </NavLink>
          ))}
        </nav>
        <RoomAir />
        <SettingsMenu onBackups={onBackups} onKeys={onKeys} onPreferences={onPreferences} />
        <Plain
          className="hidden items-center gap-2 self-center bg-on-head px-4 py-1.5 font-bold text-head sm:flex"
          onClick={() => {
            weigh();
          }}
        >
          Weigh <kbd>W</kbd>
        </Plain>
      </div>
    </header>
  );
});

function RoomAir() {
  const air = useQuery(room).data;
  if (!air) return <span className="grow" />;
  const measured = air.measured_at ? new Date(air.measured_at) : null;
  return (
    <p className="ml-auto self-center text-right text-sm leading-tight text-on-head-muted">
      <span className="num">{fixed(toTemp(air.temp_c), 1)}</span> {tempUnit()} ·{" "}
      <span className="num">{fixed(air.rh_pct, 0)}</span> %
      <span className={air.stale ? "hidden sm:inline" : ""}> in {air.name}</span>
      <span className="hidden md:inline">
        {" "}
        · dries to <span className="num">{fixed(air.rh_at_60c_pct, 0)}</span> % at {temp(60)}
      </span>
      {air.stale && (
        <span className="block text-on-head">
          {measured ? `measured ${since(measured, new Date())} ago` : "assumed, not measured"}
        </span>
      )}
    </p>
  );
}

function SettingsMenu({ onBackups, onKeys, onPreferences }: MenuActs) {
  const theme = useTheme();
  const { data: me } = useQuery(session);
  const signOut = useSignOut();
  return (
    <Menu>
      <MenuButton className="self-center px-1 text-sm text-on-head-muted underline underline-offset-4 data-hover:text-on-head">
        Settings
      </MenuButton>
      <MenuItems
        modal={false}
        anchor="bottom end"
        className="z-20 mt-2 border-2 border-ink bg-paper py-1 text-ink outline-none"
        aria-label="Settings"
      >
        {THEMES.map((kind) => (
          <MenuItem key={kind}>
            <button
              type="button"
              className="block w-full px-4 py-1.5 text-left data-focus:bg-ground"
              onClick={() => {
                chooseTheme(kind);
              }}
            >
              {theme === kind ? "✓ " : "   "}
              {kind}
            </button>
          </MenuItem>
        ))}
        <MenuItem>
          <Link to="/history" className="mt-1 block border-t border-line px-4 py-1.5 data-focus:bg-ground">
            history
          </Link>
        </MenuItem>
        <MenuItem>
          <Link to="/people" className="block px-4 py-1.5 data-focus:bg-ground">
            {me?.signed_in ? "people and devices" : "use it from a phone"}
          </Link>
        </MenuItem>
        <MenuItem>
          <button
            type="button"
            className="block w-full px-4 py-1.5 text-left data-focus:bg-ground"
            onClick={onPreferences}
          >
            units, tariff, hours at home, your name …
          </button>
        </MenuItem>
        <MenuItem>
          <button
            type="button"
            className="block w-full px-4 py-1.5 text-left data-focus:bg-ground"
            onClick={onBackups}
          >
            backups and your data …
          </button>
        </MenuItem>
        <MenuItem>
          <Link to="/programs" className="block px-4 py-1.5 data-focus:bg-ground">
            for your own programs
          </Link>
        </MenuItem>
        <MenuItem>
          <button
            type="button"
            className="block w-full px-4 py-1.5 text-left data-focus:bg-ground"
            onClick={onKeys}
          >
            all keys <kbd>?</kbd>
          </button>
        </MenuItem>
        {me?.open && (
          <MenuItem>
            <button
              type="button"
              className="mt-1 block w-full border-t border-line px-4 py-1.5 text-left data-focus:bg-ground"
              onClick={() => {
                signOut.mutate();
              }}
            >
              sign out {me.name}
            </button>
          </MenuItem>
        )}
      </MenuItems>
    </Menu>
  );
}
