import * as z from "zod";
import type { Role } from "../../api/client";

export const ROLES: Record<Role, string> = { owner: "owner", member: "member", guest: "guest" };

export const MAY: Record<Role, string> = {
  owner: "can do everything, and decides who may sign in",
  member: "can do everything except backups, people and devices",
  guest: "can look at everything and change nothing",
};

export const ROLE_OPTIONS = (["owner", "member", "guest"] as const).map((role) => ({
  value: role,
  name: ROLES[role],
  note: MAY[role],
}));

export const NEW_PASSWORD = z.string().min(10, { error: "Needed: a password of at least 10 characters." });
