/** Programs that end by themselves are started again: soon, then after growing pauses. How often is written down for the desk. */
import { writeFileSync } from 'node:fs';
import { setTimeout as wait } from 'node:timers/promises';

/** The first pause, and the longest that it grows to. Milliseconds. */
const SHORTEST = 500;
const LONGEST = 30_000;
/** A program that ran for so long was well: the next pause is a short one again. */
const WELL = 60_000;

/**
 * @param file where it is written how often which program was started again; a new supervisor begins anew.
 * @param say tells a person.
 */
export function supervise(file, say) {
  const restarts = {};
  const kept = [];
  const stopping = new AbortController();
  const writeDown = () => {
    try {
      writeFileSync(file, JSON.stringify(restarts), { mode: 0o600 });
    } catch {
      // The disk is full, or gone: what runs is more important than what is said of it.
    }
  };
  writeDown();

  /** Starts a program and keeps it running. @param start resolves with `ended` and `stop`. @throws what the first start throws. */
  async function keep(name, start) {
    const one = { running: await start() };
    if (stopping.signal.aborted) {
      // Another one could not be started meanwhile: nobody waits for this one any more.
      await one.running.stop();
      throw new Error(`${name} was stopped while it was being started.`);
    }
    kept.push(one);
    void watch(name, start, one);
    return one.running;
  }

  async function watch(name, start, one) {
    let pause = SHORTEST;
    let since = performance.now();
    for (;;) {
      const code = await one.running.ended;
      if (stopping.signal.aborted) return;
      if (performance.now() - since > WELL) pause = SHORTEST;
      const known = restarts[name]?.count ?? 0;
      restarts[name] = { count: known + 1, last: new Date().toISOString() };
      writeDown();
      const how = typeof code === 'number' ? `with code ${code}` : 'killed from outside';
      say(`${name} ended by itself, ${how}. It is started again in ${pause / 1000} s.`);
      await wait(pause, undefined, { signal: stopping.signal }).catch(() => undefined);
      pause = Math.min(LONGEST, 2 * pause);
      if (stopping.signal.aborted) return;
      since = performance.now();
      try {
        one.running = await start();
        if (stopping.signal.aborted) await one.running.stop();
      } catch (error) {
        say(`${name} could not be started: ${error.message.trim()}`);
        one.running = { ended: Promise.resolve(1), stop: () => Promise.resolve() };
      }
    }
  }

  return {
    keep,
    /** Stops all, the last first. */
    async stop() {
      stopping.abort();
      for (const one of kept.splice(0).reverse()) await one.running.stop();
    },
  };
}
