/** Keeping: other settings tried on what was recorded of tags, before they are put in force. Nothing is changed by it. */
import type { Tag } from '@wide-ledger/contract';
import { useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { useEdit } from '../configuration/drafting.ts';
import { Button } from '../controls/Button.tsx';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { useTagsNamed } from '../server/queries.ts';
import { AddTag } from '../traces/TagChips.tsx';
import { TraceCanvas } from '../traces/TraceCanvas.tsx';
import { lengthWords, stamp } from '../window/times.ts';
import { useWindow, useZone } from '../window/windowStore.ts';
import { FastReading } from './FastReading.tsx';
import { Settings } from './Settings.tsx';
import { Spectrum } from './Spectrum.tsx';
import { TrialTable } from './TrialTable.tsx';
import { ownSettings, settingsOf, triedBy, typedOf, type Typed } from './settings.ts';
import type { Drawing, Trial } from './trial.ts';
import { useTrial } from './useTrial.ts';

const canBeTried = ({ type }: Tag): boolean => type === 'real' || type === 'integer';
const nothing = (): void => undefined;

export function Keeping() {
  const [search, setSearch] = useSearchParams();
  const names = (search.get('tags') ?? '').split(',').filter(Boolean);
  const tags = useTagsNamed(names);
  const unknown = names.filter((name) => !tags.some((tag) => tag.name === name));
  const tried = tags.filter(canBeTried);
  const [typed, setTyped] = useState<Typed | null>(null);
  const drawn = tried.find(({ name }) => name === search.get('drawn')) ?? tried[0];
  // It begins with what the first tag is kept by.
  const now = typed ?? (drawn ? typedOf(drawn) : null);
  const settings = now && settingsOf(now);
  const window = useSettledWindow();
  const trial: Trial | null =
    !drawn || settings === null || typeof settings === 'string'
      ? null
      : {
          ...window,
          tags: tried.map((tag) => ({ tag: tag.name, stepped: tag.stepped, settings: triedBy(tag, settings) })),
          drawn: drawn.name,
        };
  const state = useTrial(trial);
  const zone = useZone();
  const change = (name: string, value: string): void =>
    setSearch(
      (current) => {
        current.set(name, value);
        return current;
      },
      { replace: true },
    );
  const row = state.tried?.rows.find(({ tag }) => tag === drawn?.name);
  const { drawing = null } = state.tried ?? {};
  const tryingEvery = typeof settings === 'object' ? settings?.intervalMilliseconds : undefined;
  const inForceEvery = drawn?.collection?.intervalMilliseconds;
  // As fast as it answers is 0: how fast that is nobody knows beforehand.
  const readEvery = (tryingEvery ?? inForceEvery ?? 0) / 1000 || null;
  return (
    <Page
      title="Keeping"
      says="Other settings, tried on what was recorded in this window. Nothing is changed by it."
      tools={
        <>
          <AddTag chosen={names} onAdd={(name) => change('tags', [...names, name].join(','))} />
          <TakeIntoDraft tags={tried} settings={typeof settings === 'string' ? null : settings} />
        </>
      }
    >
      {names.length === 0 && <Empty>No tag yet. Add one above, or come here from a tag.</Empty>}
      {unknown.length > 0 && (
        <p role="status" className="mb-1 text-ink-2">
          {unknown.join(', ')}: on its way, or not in force.
        </p>
      )}
      {tags.some((tag) => !canBeTried(tag)) && (
        <p className="mb-1 text-ink-2">Only numbers are tried: texts, states and switches are kept when they change.</p>
      )}
      {now && drawn && (
        <Settings
          typed={now}
          unit={drawn.unit}
          proposed={row?.proposed ?? null}
          movement={row?.movement ?? null}
          interval={readEvery}
          onTyped={setTyped}
        />
      )}
      {typeof settings === 'string' && (
        <p role="status" className="text-madder">
          {settings}
        </p>
      )}
      {state.failed !== null && <Failure error={new Error(state.failed)} />}
      {drawn && (
        <p
          role="status"
          className="min-h-5 text-ink-2"
          title={state.tried ? `Tried in ${Math.round(state.tried.milliseconds)} ms` : ''}
        >
          {state.loading
            ? `Fetching ${state.loading.tag}: ${showNumber(state.loading.loaded)} values, ${state.loading.done} of ${state.loading.of} tags done`
            : row &&
              `${showNumber(row.kept)} of ${showNumber(row.samples)} values of ${row.tag} are kept${row.cutAt === null ? '' : `, of those up to ${stamp(row.cutAt, zone)}: the window holds more`}.`}
        </p>
      )}
      {drawn && (
        <div className={`flex min-h-40 flex-1 flex-col ${state.isTrying ? 'opacity-60' : ''}`}>
          {drawing && <Drawn drawing={drawing} tag={drawn} zone={zone} window={window} />}
          {drawing && <Spectrum spectrum={drawing.spectrum} movement={row?.movement ?? null} interval={readEvery} />}
          {drawn.collection && <FastReading key={drawn.name} tag={drawn} interval={readEvery} />}
        </div>
      )}
      {state.tried && (
        <div className="max-h-64 shrink-0 overflow-auto pb-3">
          <TrialTable
            rows={state.tried.rows}
            intervals={
              new Map(tags.map(({ name, collection }) => [name, tryingEvery ?? collection?.intervalMilliseconds ?? 0]))
            }
            units={new Map(tags.map(({ name, unit }) => [name, unit]))}
            drawn={drawn?.name ?? ''}
            onDrawn={(tag) => change('drawn', tag)}
            onTakeAway={(tag) => change('tags', names.filter((name) => name !== tag).join(','))}
          />
        </div>
      )}
    </Page>
  );
}

/** The window of all screens; while it is live, as it was when somebody last set its length. */
function useSettledWindow(): { readonly from: number; readonly to: number } {
  const { from, to, live } = useWindow();
  const asked = live ? `last ${to - from}` : `${from} ${to}`;
  const [settled, setSettled] = useState({ asked, from, to });
  useEffect(() => {
    setSettled((before) => (before.asked === asked ? before : { asked, from, to }));
  }, [asked, from, to]);
  return { from: settled.from, to: settled.to };
}

interface DrawnProps {
  readonly drawing: Drawing;
  readonly tag: Tag;
  readonly zone: string;
  readonly window: { readonly from: number; readonly to: number };
}

/** What was recorded, and over it what one would see of what is kept: what is drawn first lies on top. */
function Drawn({ drawing, tag: { unit, stepped }, zone, window: { from, to } }: DrawnProps) {
  const traces = useMemo(
    () =>
      [drawing.kept, drawing.recorded].map((envelope) => ({
        tag: `${drawing.tag} ${envelope.tag}`,
        unit,
        stepped,
        right: false,
        envelope,
      })),
    [drawing, unit, stepped],
  );
  return (
    <>
      <p className="text-ink-2">
        <span className="text-verdigris">━</span> what is kept,{' '}
        {stepped ? 'held until the next value' : 'with straight lines between'} &nbsp;{' '}
        <span className="text-plum">╍</span> what was recorded · {lengthWords(to - from)}
      </p>
      <TraceCanvas
        traces={traces}
        annotations={[]}
        logarithmic={false}
        lanes={false}
        from={from}
        to={to}
        zone={zone}
        onInset={nothing}
        onHover={nothing}
      />
    </>
  );
}

interface TakeProps {
  readonly tags: readonly Tag[];
  readonly settings: Exclude<ReturnType<typeof settingsOf>, string> | null;
}

/** The settings for all of these tags, as their own in place of their pace's. */
function TakeIntoDraft({ tags, settings }: TakeProps) {
  const edit = useEdit();
  const collected = tags.filter(({ collection }) => collection !== null);
  return (
    <>
      {edit.error && <Failure error={edit.error} />}
      {edit.isSuccess && <span role="status">In your draft.</span>}
      <Button
        main
        disabled={settings === null || collected.length === 0 || edit.isPending}
        onClick={() =>
          edit.mutate(
            collected.map((tag) => ({ kind: 'tag', id: tag.id, set: { settings: ownSettings(tag, settings ?? {}) } })),
          )
        }
      >
        Take into the draft
      </Button>
    </>
  );
}
