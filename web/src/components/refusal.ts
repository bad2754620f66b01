import { ApiError } from "../api/client";

/** What the server refused, and what of it belongs to a field (or to a part of it, such as one value of a list). */
export function refusal(error: Error | null) {
  const refused = error instanceof ApiError ? error : null;
  const of = (field: string): string | undefined =>
    refused?.field === field || refused?.field?.startsWith(`${field}.`) ? refused.message : undefined;
  return { refused, of };
}
