/** The frame of the application: bar, rail, and the screen between them. */
import { useQueryClient } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { Outlet, useSearchParams } from 'react-router';
import { DraftBar } from '../configuration/DraftBar.tsx';
import { WINDOW_QUESTIONS, useDesk } from '../server/queries.ts';
import { WindowBar } from '../window/WindowBar.tsx';
import { tick, useWindowState, windowParameters } from '../window/windowStore.ts';
import { CommandBox } from './CommandBox.tsx';
import { Rail } from './Rail.tsx';

/** The address is written at most so often: browsers refuse more. */
const ADDRESS_MILLISECONDS = 300;
/** Seconds for which a live window stands still at most. */
const LONGEST_WAIT = 15;

export function Frame() {
  const [, setSearch] = useSearchParams();
  const client = useQueryClient();
  const { data: desk } = useDesk();
  useEffect(() => {
    // A live window waits for the answers about where it stands: moving on would throw them away, and on a slow
    // day nothing would ever be shown.
    let waited = 0;
    const timer = setInterval(() => {
      const asking = client.isFetching({ predicate: ({ queryKey }) => WINDOW_QUESTIONS.has(String(queryKey[0])) });
      waited = asking > 0 ? waited + 1 : 0;
      if (waited < LONGEST_WAIT && asking > 0) return;
      waited = 0;
      tick(Date.now());
    }, 1000);
    return () => clearInterval(timer);
  }, [client]);
  useEffect(() => {
    if (desk) useWindowState.setState({ siteZone: desk.zone });
  }, [desk?.zone]); // eslint-disable-line react-hooks/exhaustive-deps -- the rest of the desk changes every second

  const { live, length, otherZone } = useWindowState();
  const heldTo = useWindowState((state) => (state.live ? null : state.to));
  // The address as it is when the time has come: a row that was chosen meanwhile stays in it.
  const writeAddress = useRef(setSearch);
  useEffect(() => {
    writeAddress.current = setSearch;
  });
  useEffect(() => {
    const timer = setTimeout(() => {
      // As it stands in the browser, which may be ahead of what was rendered last; what is right already is left alone.
      const address = new URLSearchParams(globalThis.location.search);
      const before = address.toString();
      for (const [name, value] of Object.entries(windowParameters(useWindowState.getState()))) {
        if (value === null) address.delete(name);
        else address.set(name, value);
      }
      if (address.toString() !== before) writeAddress.current(address, { replace: true });
    }, ADDRESS_MILLISECONDS);
    return () => clearTimeout(timer);
  }, [live, length, otherZone, heldTo]);

  return (
    <div className="flex h-full flex-col">
      <WindowBar />
      <div className="flex min-h-0 flex-1">
        <Rail />
        <Outlet />
      </div>
      <DraftBar />
      <CommandBox />
    </div>
  );
}
