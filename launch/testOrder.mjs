/**
 * In which order the suites run: those of whole sites in Chromium and killed processes are spread among the others, so that
 * two of them seldom share the machine. They have clocks and time limits of their own, and need its cores.
 */
import { statSync } from 'node:fs';
import Sequencer from '@jest/test-sequencer';

const sizeOf = ({ path }) => statSync(path).size;

export default class TestOrder extends Sequencer {
  sort(tests) {
    const isWhole = ({ context }) => context.config.displayName?.name === 'whole';
    const largestFirst = (some) => some.toSorted((a, b) => sizeOf(b) - sizeOf(a));
    const wholes = largestFirst(tests.filter(isWhole));
    const others = largestFirst(tests.filter((test) => !isWhole(test)));
    // About as long as a suite is, others run beside it.
    const perByte =
      others.length /
      Math.max(
        1,
        wholes.reduce((sum, test) => sum + sizeOf(test), 0),
      );
    return [...wholes.flatMap((whole) => [whole, ...others.splice(0, Math.round(sizeOf(whole) * perByte))]), ...others];
  }
}
