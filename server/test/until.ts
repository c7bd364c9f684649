const PATIENCE_MS = 60_000;
const PAUSE_MS = 20;

/**
 * Waits until something holds; fails where it does not in good time.
 *
 * @param more what is known then, for whoever looks for the reason
 */
export async function until(
  holds: () => Promise<boolean> | boolean,
  { withinMs = PATIENCE_MS, more = () => '' }: { withinMs?: number; more?: () => string } = {},
): Promise<void> {
  for (const end = Date.now() + withinMs; !(await holds());) {
    if (Date.now() > end) throw new Error(`Still not so after ${withinMs / 1000} s: ${String(holds)} ${more()}`);
    await new Promise((resolve) => setTimeout(resolve, PAUSE_MS));
  }
}
