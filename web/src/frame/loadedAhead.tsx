/** A screen whose code is large: loaded when the browser is idle, and drawn at once when it is there. */
import { Suspense, lazy, useState, type ComponentType } from 'react';

/**
 * @param load brings the screen.
 * @returns the screen, and how to load it ahead. What was loaded is drawn without waiting for anything: a boundary that
 * waits, however shortly, is held back for a third of a second, so that nothing flickers.
 */
export function loadedAhead(load: () => Promise<ComponentType>): {
  readonly Screen: ComponentType;
  readonly loadAhead: () => void;
} {
  let loaded: ComponentType | null = null;
  const bring = async (): Promise<ComponentType> => (loaded ??= await load());
  const Late = lazy(async () => ({ default: await bring() }));
  function Screen() {
    // The same one as long as it is shown.
    const [Ready] = useState(() => loaded);
    if (Ready) return <Ready />;
    return (
      <Suspense fallback={<main className="flex-1" aria-busy="true" />}>
        <Late />
      </Suspense>
    );
  }
  return { Screen, loadAhead: () => void bring().catch(() => undefined) };
}
