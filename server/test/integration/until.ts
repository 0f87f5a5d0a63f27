/** Milliseconds that something may take on a busy machine. */
const PATIENCE = 60_000;

/** Waits until something is so. @param shown what there is instead, for whoever reads why it never came. */
export async function until(
  what: string,
  check: () => Promise<boolean> | boolean,
  shown: () => Promise<unknown>,
): Promise<void> {
  for (const end = performance.now() + PATIENCE; performance.now() < end;) {
    if (await check()) return;
    await new Promise((done) => setTimeout(done, 40));
  }
  throw new Error(`Waited in vain until ${what}: ${JSON.stringify(await shown())}`);
}
