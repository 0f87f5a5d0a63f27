/** The one window of time: every list, strip, chart and table shows it; the address in the browser holds it. */
import { IANAZone } from 'luxon';
import { create } from 'zustand';

export interface TimeWindow {
  /** Milliseconds since 1970. */
  readonly from: number;
  readonly to: number;
  readonly live: boolean;
}

interface WindowState {
  readonly live: boolean;
  /** Length in milliseconds; a live window ends now. */
  readonly length: number;
  readonly to: number;
  /** Another zone than the site's; null: the site's. */
  readonly otherZone: string | null;
  readonly siteZone: string;
}

const MINUTE = 60_000;
const HOUR = 60 * MINUTE;
const SHORTEST = 1000;
const LONGEST = 400 * 24 * HOUR;

/** How often a live window moves: often where a second is seen, seldom where it is not. */
const stepOf = (length: number): number => (length <= 30 * MINUTE ? 1000 : length <= 6 * HOUR ? 2000 : 15_000);

/**
 * The window that an address asks for: held between `from` and `to`, or live over the `last` so many seconds.
 * @param search the address's query. @param now milliseconds since 1970.
 */
export function windowOfAddress(search: string, now: number): WindowState {
  const asked = new URLSearchParams(search);
  const from = Date.parse(asked.get('from') ?? '');
  const to = Date.parse(asked.get('to') ?? '');
  const held = from < to;
  const length = held ? to - from : Number(asked.get('last') ?? NaN) * 1000 || 6 * HOUR;
  return {
    live: !held,
    length: Math.min(Math.max(length, SHORTEST), LONGEST),
    to: held ? to : now,
    otherZone: zoneOf(asked.get('zone')),
    siteZone: 'UTC',
  };
}

/** A zone as an address names it; null where it names none that there is. */
function zoneOf(named: string | null): string | null {
  if (named === 'utc') return 'UTC';
  return named !== null && IANAZone.isValidZone(named) ? named : null;
}

export const useWindowState = create<WindowState>(() => windowOfAddress(globalThis.location?.search ?? '', Date.now()));

/** The window as it stands. A live one moves in steps, so that equal questions stay equal between two steps. */
export function useWindow(): TimeWindow {
  const live = useWindowState((state) => state.live);
  const length = useWindowState((state) => state.length);
  const to = useWindowState((state) => state.to);
  return { from: to - length, to, live };
}

export const useZone = (): string => useWindowState((state) => state.otherZone ?? state.siteZone);

/** Shows times by another zone's clock; null: by the site's. */
export const showZone = (otherZone: string | null): void => useWindowState.setState({ otherZone });

/** Changes between the site's zone and UTC; from any other one to the site's. */
export const toggleZone = (): void =>
  useWindowState.setState(({ otherZone }) => ({ otherZone: otherZone === null ? 'UTC' : null }));

/** Moves a live window on; called every second by the frame. */
export function tick(now: number): void {
  const { live, length, to } = useWindowState.getState();
  if (!live) return;
  const step = stepOf(length);
  const next = Math.floor(now / step) * step;
  if (next !== to) useWindowState.setState({ to: next });
}

/** Shows the last so many milliseconds and moves along. */
export function showLast(length: number): void {
  useWindowState.setState({ live: true, length, to: Date.now() });
}

/** Holds a window still. */
export function hold(from: number, to: number): void {
  const length = Math.min(Math.max(to - from, SHORTEST), LONGEST);
  useWindowState.setState({ live: false, length, to: Math.round(to) });
}

/** Holds a live window where it is, or lets a held one move along again. */
export function toggleLive(): void {
  const { live, length } = useWindowState.getState();
  if (live) useWindowState.setState({ live: false });
  else showLast(length);
}

/** The window as parameters of the address. */
export function windowParameters({ live, length, to, otherZone }: WindowState): Record<string, string | null> {
  return {
    last: live ? String(length / 1000) : null,
    from: live ? null : new Date(to - length).toISOString(),
    to: live ? null : new Date(to).toISOString(),
    zone: otherZone === 'UTC' ? 'utc' : otherZone,
  };
}
