import { Button as Base, type ButtonProps } from "@headlessui/react";
import { primary, quiet, standingLink } from "./classes";

interface Props extends ButtonProps {
  /** The act of the page, one beside it, or one within a sentence or a row. */
  kind: "primary" | "quiet" | "link";
  className?: string;
}

const LOOKS = { primary, quiet, link: standingLink };

/** Something to press. It never sends a form unless it says so by `type="submit"`. */
export function Button({ kind, className = "", type = "button", ...rest }: Props) {
  return <Base {...rest} type={type} className={`${LOOKS[kind]} ${className}`} />;
}
