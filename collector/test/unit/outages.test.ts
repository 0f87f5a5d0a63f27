/**
 * Outages against what the plant really produced, in quick time: what fails × for how long × which way it is fetched ×
 * what happens meanwhile × a device whose clock is wrong. Nothing that the device still holds is missing, nothing stands
 * that was never measured, and what is missing lies in a gap that says why.
 */
import { jest } from '@jest/globals';
import { lostOf, rehearse, type RehearsedFault, type RehearsedSource } from '@wide-ledger/core';
import { Archive, faultsOf } from '../outageArchive.ts';
import { PlantDevice } from '../outagePlant.ts';
import { Run } from '../outageRun.ts';
import { QuickTime } from '../quickTime.ts';

beforeEach(() => {
  jest.useFakeTimers();
});
afterEach(() => {
  jest.clearAllTimers();
  jest.useRealTimers();
});

interface Scene {
  readonly time: QuickTime;
  readonly device: PlantDevice;
  readonly archive: Archive;
  run: Run;
  begin(): Run;
}

/** What fails, for so many milliseconds. */
const FAILURES: Readonly<Record<string, (scene: Scene, milliseconds: number) => Promise<void>>> = {
  'the line is cut': async ({ time, device }, milliseconds) => {
    device.line = 'cut';
    await time.run(milliseconds);
    device.line = 'whole';
  },
  'the line swallows everything': async ({ time, device }, milliseconds) => {
    device.line = 'stalled';
    await time.run(milliseconds);
    device.line = 'whole';
  },
  'the line flaps': async ({ time, device }, milliseconds) => {
    for (let passed = 0; passed < milliseconds; passed += 1500) {
      device.line = 'cut';
      await time.run(1000);
      device.line = 'whole';
      await time.run(500);
    }
  },
  'the device is off': async ({ time, device }, milliseconds) => {
    device.switchOff();
    await time.run(milliseconds);
    device.switchOn();
  },
  'the device goes off while the line is cut': async ({ time, device }, milliseconds) => {
    device.line = 'cut';
    await time.run(milliseconds / 4);
    device.switchOff();
    await time.run(milliseconds / 2);
    device.switchOn();
    await time.run(milliseconds / 4);
    device.line = 'whole';
  },
  'the device restarts with an empty ring': async ({ time, device }, milliseconds) => {
    device.line = 'cut';
    await time.run(milliseconds / 2);
    device.restart();
    await time.run(milliseconds / 2);
    device.line = 'whole';
  },
  'the disk is full, and memory after it': async ({ time, archive }, milliseconds) => {
    archive.full = true;
    await time.run(milliseconds);
    archive.overflown = true;
    archive.full = false;
  },
  'the collector is killed': async (scene, milliseconds) => {
    scene.run.kill();
    await scene.time.run(milliseconds);
    scene.begin();
  },
  'the collector is stopped': async (scene, milliseconds) => {
    scene.run.stop();
    await scene.time.run(milliseconds);
    scene.begin();
  },
  'the collector is frozen': async ({ time }, milliseconds) => {
    time.freeze(milliseconds);
    await time.run(1000);
  },
};

/** Runs until something is being fetched, and a little on; not for long where nothing is. */
async function untilFetching({ time, run }: Scene, milliseconds: number): Promise<void> {
  for (let passed = 0; passed < 12_000 && run.holes === 0; passed += 50) await time.run(50);
  await time.run(milliseconds);
}

/** What happens while it is fetched. */
const MEANWHILE: Readonly<Record<string, (scene: Scene) => Promise<void>>> = {
  'and nothing else': () => Promise.resolve(),
  'the collector is killed while it fetches': async (scene) => {
    await untilFetching(scene, 300);
    scene.run.kill();
    await scene.time.run(2000);
    scene.begin();
  },
  'the disk is full while it fetches': async (scene) => {
    const { time, archive } = scene;
    await untilFetching(scene, 200);
    archive.full = true;
    await time.run(8000);
    archive.full = false;
  },
  'the line is cut while it fetches': async (scene) => {
    const { time, device } = scene;
    await untilFetching(scene, 300);
    device.line = 'cut';
    await time.run(4000);
    device.line = 'whole';
  },
};

/** The ring holds a minute and a half: the third is longer. Seconds. */
const LENGTHS = [4, 40, 150];
const CAPACITY = 3 * 90;

async function play(
  fail: (scene: Scene, milliseconds: number) => Promise<void>,
  seconds: number,
  meanwhile: (scene: Scene) => Promise<void>,
  recoverFirst: 'oldest' | 'newest',
  clockError = 0,
): Promise<{ faults: string[]; scene: Scene; missing: number }> {
  const time = new QuickTime(50);
  jest.setSystemTime(time.start);
  const device = new PlantDevice(time, clockError, CAPACITY);
  const archive = new Archive();
  const scene: Scene = {
    time,
    device,
    archive,
    run: null as never,
    begin() {
      scene.run = new Run(time, device, archive, { recoverFirst });
      return scene.run;
    },
  };
  scene.begin();
  await time.run(10_000);
  const from = time.wall() * 1000 - 8_000_000;
  await fail(scene, seconds * 1000);
  await meanwhile(scene);
  for (let waited = 0; waited < 120 && (waited < 15 || scene.run.holes > 0); waited++) await time.run(1000);
  scene.run.stop();
  const window = { from, to: time.wall() * 1000 - 2_000_000 };
  const missing = archive.missing(1, window).reduce((sum, gap) => sum + gap.to - gap.from, 0) / 1e6;
  return { faults: faultsOf(archive, device, window), scene, missing };
}

const cases = Object.keys(FAILURES).flatMap((failure) =>
  LENGTHS.flatMap((seconds) =>
    Object.keys(MEANWHILE).flatMap((meanwhile) =>
      (['oldest', 'newest'] as const).map((first) => [failure, seconds, meanwhile, first] as const),
    ),
  ),
);

test(`there are ${cases.length} of them`, () => {
  expect(cases.length).toBeGreaterThanOrEqual(40);
});

test.each(cases)('%s for %d s, %s, %s first', async (failure, seconds, meanwhile, first) => {
  const { faults, missing } = await play(FAILURES[failure]!, seconds, MEANWHILE[meanwhile]!, first);
  expect(faults).toEqual([]);
  // A short one comes back whole, unless the device itself lost it or was off.
  if (seconds < 60 && !failure.startsWith('the device')) expect(missing).toBeLessThan(0.001);
  if (seconds > 100 && !failure.startsWith('the line flaps')) expect(missing).toBeGreaterThan(30);
});

/** What fails in a rehearsal, from its first second on. */
const REHEARSED: Readonly<Record<string, (seconds: number) => RehearsedFault[]>> = {
  'the line is cut': (seconds) => [{ kind: 'line cut', source: 0, at: 0, lasts: seconds }],
  'the device restarts with an empty ring': (seconds) => [
    { kind: 'line cut', source: 0, at: 0, lasts: seconds },
    { kind: 'memory lost', source: 0, at: seconds / 2, lasts: 0 },
  ],
  'the collector is killed': (seconds) => [{ kind: 'collector off', source: null, at: 0, lasts: seconds }],
};

test.each(
  Object.keys(REHEARSED).flatMap((failure) =>
    LENGTHS.flatMap((seconds) => (['oldest', 'newest'] as const).map((first) => [failure, seconds, first] as const)),
  ),
)('a rehearsal of it foretells what is lost: %s for %d s, %s first', async (failure, seconds, first) => {
  const { missing } = await play(FAILURES[failure]!, seconds, MEANWHILE['and nothing else']!, first);
  const source: RehearsedSource = {
    name: 'S',
    valuesPerSecond: 3,
    remembers: CAPACITY,
    remembersPerSecond: 3,
    mode: 'by itself',
    valuesPerCall: 10,
    callsPerSecond: 20,
    newestFirst: first === 'newest',
    standby: false,
  };
  const collector = { spoolBytes: null, bytesPerValue: 20, heldInMemory: 2_000_000, deliversPerSecond: 50_000 };
  const { outcomes } = rehearse({ sources: [source], collector, faults: REHEARSED[failure]!(seconds) });
  // It takes the collector a few seconds to find out that the line is back, and for so long more is pushed out.
  expect(Math.abs(missing - lostOf(outcomes[0]!))).toBeLessThan(8);
});

test.each([3_600_000, -30_000, 1500])(
  'a device whose clock is %d ms off: what was missed comes by its clock',
  async (clockError) => {
    const { faults, missing } = await play(
      FAILURES['the line is cut']!,
      40,
      MEANWHILE['and nothing else']!,
      'oldest',
      clockError,
    );
    expect(faults).toEqual([]);
    expect(missing).toBeLessThan(0.001);
  },
);

test.each(Array.from({ length: 30 }, (_, i) => i * 50))(
  'killed %d ms later while it fetches: what was live and not written yet is fetched, too',
  async (later) => {
    const kill = async (scene: Scene): Promise<void> => {
      await untilFetching(scene, later);
      scene.run.kill();
      await scene.time.run(2000);
      scene.begin();
    };
    const { faults, missing } = await play(FAILURES['the line is cut']!, 80, kill, 'oldest');
    expect(faults).toEqual([]);
    expect(missing).toBeLessThan(0.5);
  },
);

test('what is measured by the test itself can fail: an archive that misses, invents or holds is found out', async () => {
  const { scene } = await play(FAILURES['the line is cut']!, 4, MEANWHILE['and nothing else']!, 'oldest');
  const { archive, device, time } = scene;
  const window = { from: time.start * 1000 + 3e6, to: time.wall() * 1000 - 3e6 };
  expect(faultsOf(archive, device, window)).toEqual([]);
  const own = archive.samples.get(2)!;
  const some = [...own.keys()].filter((at) => at > window.from && at < window.to).at(-4)!;
  const kept = own.get(some)!;
  own.delete(some);
  expect(faultsOf(archive, device, window).join()).toContain('no gap says so');
  own.set(some, { ...kept, value: kept.value + 1 });
  expect(faultsOf(archive, device, window).join()).toContain('is no value of it');
  own.set(some, kept);
  own.set(some + 1, kept);
  expect(faultsOf(archive, device, window).join()).toContain('was never measured');
});
