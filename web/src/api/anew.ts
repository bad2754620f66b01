import { client, unwrap } from "./client";

const ASKS_MS = 500;
const MOST_ASKS = 240;
const after = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));
const since = async () => (await unwrap(client.GET("/api/health/"))).since;

/** An act after which the server may start again; done when the new one answers. The old one may still do so for a
 * while. */
export async function thenStarted<Answer extends { starts_again: boolean }>(
  act: () => Promise<Answer>,
): Promise<Answer> {
  const before = await since();
  const answer = await act();
  for (let asked = 0; answer.starts_again && asked < MOST_ASKS; asked++) {
    await after(ASKS_MS);
    const now = await since().catch(() => null);
    if (now !== null && now !== before) break;
  }
  return answer;
}
