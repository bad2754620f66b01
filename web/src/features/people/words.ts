import * as z from "zod";
import type { Role } from "../../api/client";

export const ROLES: Record<Role, string> = { owner: "owner", member: "member", guest: "guest" };

export const MAY: Record<Role, string> = {
  owner: "does everything, and says who may come in",
  member: "does everything but backups, people and devices",
  guest: "looks at everything, changes nothing",
};

export const ROLE_OPTIONS = (["owner", "member", "guest"] as const).map((role) => ({
  value: role,
  name: ROLES[role],
  note: MAY[role],
}));

export const NEW_PASSWORD = z.string().min(10, { error: "Needed: a password of at least 10 characters." });
