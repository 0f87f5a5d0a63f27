import { useEffect, useRef } from 'react';
import { useRouteError } from 'react-router';
import { Button } from '../controls/Button.tsx';
import { Page } from '../controls/Page.tsx';

/** In place of a screen that failed: the frame, the draft and everything else go on. */
export function Broken() {
  const error = useRouteError();
  const words = useRef<HTMLDivElement>(null);
  useEffect(() => words.current?.focus(), []);
  return (
    <Page title="This screen failed">
      <div ref={words} role="alert" tabIndex={-1} className="max-w-prose outline-none">
        <p>
          That is a fault of Wide Ledger. Nothing was lost: values are archived on, and your draft is kept on the
          server. Open the screen again, or go on with another one; if it fails again, tell whoever looks after Wide
          Ledger what is written below.
        </p>
        <p className="figure my-3 text-ink-2">{error instanceof Error ? error.message : String(error)}</p>
      </div>
      <div>
        <Button main onClick={() => globalThis.location.reload()}>
          Open it again
        </Button>
      </div>
    </Page>
  );
}
