import createClient from "openapi-fetch";
import { myName } from "../domain/myName";
import { openedWorkshop } from "../domain/workshop";
import { inWords } from "../domain/quantities";
import { forgetLastKnown, sawAnswer } from "./lastKnown";
import type { components, paths } from "./schema";

type Schemas = components["schemas"];
export type Lane = Schemas["Lane"];
export type Rack = Schemas["Rack"];
export type Trial = Schemas["Trial"];
export type TrialRow = Schemas["TrialRow"];
export type Points = Schemas["Points"];
export type Schedule = Schemas["Schedule"];
export type ScheduledStart = Schemas["ScheduledStart"];
export type Wish = Schemas["Wish"];
export type Traced = Schemas["Traced"];
export type SpoolFacts = Schemas["SpoolPage"];
export type Holding = Schemas["Holding"];
export type Place = Schemas["FullPlace"];
export type Dryer = Schemas["Dryer"];
export type Scale = Schemas["Scale"];
export type Plan = Schemas["Plan"];
export type Ticket = Schemas["Ticket"];
export type DryingMap = Schemas["Map"];
export type Ring = Schemas["Ring"];
export type Alternative = Schemas["Alternative"];
export type EmptySpool = Schemas["KnownEmpty"];
export type Material = Schemas["Material"];
export type Device = Schemas["Device"];
export type FileLayout = Schemas["Layout"];
export type LookedFile = Schemas["Looked"];
export type Preferences = Schemas["Preferences"];
export type DryerKind = Schemas["DryerKind"];
export type Caution = Schemas["Caution"];
export type Limit = Schemas["Limit"];
export type RunAir = components["schemas"]["RunAir"];
export type RoomMonth = Schemas["Month"];
export type RunEvent = components["schemas"]["Event"];
export type RunSheet = Schemas["RunSheet"];
export type RunRow = Schemas["RunList"];
export type Verdict = Schemas["Verdict"];
export type Session = Schemas["Session"];
export type Account = Schemas["Account"];
export type Role = Schemas["RoleEnum"];
export type Invitation = Schemas["Invitation"];
export type CaseRow = Schemas["CaseRow"];
export type CaseFacts = Schemas["CasePage"];
export type CaseEvidence = Schemas["Evidence"];
export type NextCheck = Schemas["NextCheck"];
export type Print = Schemas["Print"];
export type PrintFile = Schemas["PrintFile"];
export type Photo = Schemas["Photo"];
export type EvidenceTable = Schemas["Table"];
export type Practice = Schemas["Practice"];
export type PracticeRound = Schemas["PracticeRound"];
export type SignId = Schemas["SignEnum"];
export type CauseId = Schemas["CauseEnum"];
export type CheckId = Schemas["CheckEnum"];
export type FeatureId = Schemas["FeatureEnum"];
export type VerdictKind = Schemas["VerdictKindEnum"];
export type Side = Schemas["SideEnum"];
type ErrorBody = Schemas["Error"];

/** What the server refused, or that it was not reached (`code` "unreachable"). */
export class ApiError extends Error {
  readonly code: string;
  readonly field: string | null;
  readonly status: number;
  /** Every field at fault, where there is more than the first. */
  readonly fields: readonly FieldRefusal[];

  constructor(
    code: string,
    message: string,
    field: string | null,
    status: number,
    fields: readonly FieldRefusal[] = field === null ? [] : [{ field, message }],
  ) {
    super(message);
    this.name = "ApiError";
    this.code = code;
    this.field = field;
    this.status = status;
    this.fields = fields;
  }
}

export interface FieldRefusal {
  field: string;
  message: string;
}

/** What only our own page can read, where people sign in: it is sent along with every write. */
function pageToken(): string | null {
  return /(?:^|; )darre_token=([^;]+)/.exec(document.cookie)?.[1] ?? null;
}

/** Which workshop an act is meant for. */
export const WORKSHOP = "X-Darre-Workshop";

/** The key of an act: sent twice, it is done once. */
export const ACT = "X-Darre-Act";

/** What every write bears: the workshop it is meant for, and who acts. */
export function bearing(): Record<string, string> {
  const [name, open, token] = [myName(), openedWorkshop(), pageToken()];
  return {
    ...(name === "" ? {} : { "X-Darre-By": encodeURIComponent(name) }),
    ...(open === null ? {} : { [WORKSHOP]: open }),
    ...(token === null ? {} : { "X-CSRFToken": token }),
  };
}

let signedOut: (() => void) | null = null;

/** Have something done whenever the server asks to sign in. */
export function whenSignedOut(act: () => void) {
  signedOut = act;
}

export const client = createClient<paths>({ baseUrl: "" });
client.use({
  onRequest: ({ request }) => {
    if (request.method === "GET") return request;
    for (const [name, value] of Object.entries(bearing()))
      if (!request.headers.has(name)) request.headers.set(name, value);
    return request;
  },
  onResponse: ({ response }) => {
    sawAnswer(response);
    if (response.status === 401) {
      void forgetLastKnown();
      signedOut?.();
    }
    return response;
  },
});

interface Answer<Data> {
  data?: Data;
  error?: unknown;
  response: Response;
}

function isErrorBody(body: unknown): body is ErrorBody {
  return typeof body === "object" && body !== null && "code" in body && "parts" in body;
}

/** What the server refused, in the person's units; null where the answer says no such thing. */
export function refusalOf(body: unknown, status: number): ApiError | null {
  if (!isErrorBody(body)) return null;
  const fields = body.fields.map((field) => ({ field: field.field, message: inWords(field.parts) }));
  return new ApiError(
    body.code,
    inWords(body.parts),
    body.field,
    status,
    fields.length > 0 ? fields : undefined,
  );
}

/** The data of an answer; throws ApiError for every other outcome. */
export async function unwrap<Data>(pending: Promise<Answer<Data>>): Promise<Data> {
  let answer: Answer<Data>;
  try {
    answer = await pending;
  } catch {
    throw new ApiError(
      "unreachable",
      "Darre's server was not reached. What you entered is still here; try again.",
      null,
      0,
    );
  }
  if (answer.data !== undefined) return answer.data;
  const { error, response } = answer;
  throw (
    refusalOf(error, response.status) ??
    new ApiError(
      "failed",
      `The server failed (${response.status}). What you entered is still here; try again.`,
      null,
      response.status,
    )
  );
}

/** As `unwrap`, of an answer that says nothing but that it is done. */
export async function unwrapNothing(pending: Promise<Answer<unknown>>): Promise<void> {
  await unwrap(pending.then((answer) => (answer.response.ok ? { ...answer, data: true } : answer)));
}
