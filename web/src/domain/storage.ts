/** What this browser keeps for the person. Where it may keep nothing, or is full, the page works on without: then it
 * holds only as long as the page is open. */
const here = new Map<string, string>();

export function kept(key: string): string | null {
  const mine = here.get(key);
  if (mine !== undefined) return mine;
  try {
    return localStorage.getItem(key);
  } catch {
    return null;
  }
}

/** Whether it is kept beyond this page. */
export function keep(key: string, value: string): boolean {
  try {
    localStorage.setItem(key, value);
    here.delete(key);
    return true;
  } catch {
    here.set(key, value);
    return false;
  }
}
