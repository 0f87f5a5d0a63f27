/** The desk: the state of the site, what needs a person first. */
import { KINDS, type Desk as DeskAnswer, type Job } from '@wide-ledger/contract';
import { useQueryClient } from '@tanstack/react-query';
import { Link, useLocation } from 'react-router';
import { Button } from '../controls/Button.tsx';
import { Page } from '../controls/Page.tsx';
import { Failure, Skeleton } from '../controls/States.tsx';
import { showAge, showBytes, showNumber } from '../controls/values.ts';
import { searchWith } from '../frame/useGo.ts';
import { askAnew } from '../server/anew.ts';
import { post } from '../server/calls.ts';
import { useCoverage, useDesk, useGaps } from '../server/queries.ts';
import { Strip } from '../strip/Strip.tsx';
import { lengthWords, stamp, windowWords } from '../window/times.ts';
import { useZone } from '../window/windowStore.ts';
import { QuarantineList } from './QuarantineList.tsx';

export function Desk() {
  const { data: desk, error } = useDesk();
  return (
    <Page
      title="Desk"
      says={
        desk &&
        (desk.concerns.length === 0
          ? 'Nothing needs you.'
          : `${desk.concerns.length} ${desk.concerns.length === 1 ? 'thing needs' : 'things need'} you`)
      }
    >
      {error && <Failure error={error} />}
      <div className={`min-h-0 flex-1 overflow-y-auto pb-6 ${error ? 'opacity-60' : ''}`}>
        {desk ? <Sheet desk={desk} /> : <Skeleton rows={12} />}
      </div>
    </Page>
  );
}

function Sheet({ desk }: { readonly desk: DeskAnswer }) {
  const lag = desk.lastEntryAt === null ? null : Date.parse(desk.now) - Date.parse(desk.lastEntryAt);
  const figures: readonly [string, string, string][] = [
    ['values a second', showNumber(desk.valuesPerSecond, 1), 'read from the sources'],
    ['values kept', showNumber(desk.values), `${showNumber(desk.unposted)} not yet posted`],
    ['tags in force', showNumber(desk.tags), `version ${desk.version}`],
    [
      'ledger',
      showBytes(desk.bytes),
      `${showNumber(desk.blocks)} blocks, ${desk.values > 0 ? showNumber(desk.bytes / desk.values, 2) : '—'} B a value`,
    ],
    ['last entry', lag === null ? 'none yet' : showAge(lag), 'in the journal'],
  ];
  return (
    <>
      <div className="grid grid-cols-5 border-y border-ink/70">
        {figures.map(([name, value, below], i) => (
          <div key={name} className={`px-3 py-2.5 ${i > 0 ? 'border-l border-rule' : 'pl-1'}`}>
            <p className="text-ink-2">{name}</p>
            <p className="font-mono text-[20px] whitespace-nowrap" data-figure={name}>
              {value}
            </p>
            <p className="truncate text-ink-2">{below}</p>
          </div>
        ))}
      </div>
      <Concerns desk={desk} />
      <QuarantineList entries={desk.quarantine} />
      <Work jobs={desk.jobs} />
      <Machines desk={desk} />
      <NotWatched />
      <SetAside desk={desk} />
    </>
  );
}

const Heading = ({ children }: { readonly children: React.ReactNode }) => (
  <h2 className="mt-5 mb-1 font-semibold">{children}</h2>
);

function Concerns({ desk }: { readonly desk: DeskAnswer }) {
  const { search } = useLocation();
  if (desk.concerns.length === 0) return null;
  return (
    <section aria-label="What needs you">
      <Heading>What needs you</Heading>
      <ul className="border-t border-rule">
        {desk.concerns.map(({ weight, sentence, to }) => (
          <li key={sentence} className="row flex items-center gap-3">
            <span className={`w-16 shrink-0 font-semibold ${weight === 'failure' ? 'text-madder' : 'text-ochre'}`}>
              {weight === 'failure' ? 'Failure' : 'Look'}
            </span>
            <span className="min-w-0 flex-1">{sentence}</span>
            <Link className="text-verdigris" to={to.includes('#') ? to : { pathname: to, search: searchWith(search) }}>
              Show
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Long work: counts, rate, time left, and a way to stop it. */
function Work({ jobs }: { readonly jobs: readonly Job[] }) {
  const client = useQueryClient();
  const shown = jobs.filter((job) => job.state !== 'done' || Date.now() - Date.parse(job.updatedAt) < 120_000);
  if (shown.length === 0) return null;
  return (
    <section aria-label="Long work">
      <Heading>Long work</Heading>
      <ul className="border-t border-rule">
        {shown.map((job) => {
          const share = job.total > 0 ? job.done / job.total : 0;
          const spent = Date.parse(job.updatedAt) - Date.parse(job.startedAt);
          const left = share > 0 ? (spent / share) * (1 - share) : 0;
          const running = job.state === 'running';
          return (
            <li key={job.id} className="row flex items-center gap-3">
              <span className="w-56 shrink-0">{job.title}</span>
              <div
                role="progressbar"
                aria-label={job.title}
                aria-valuenow={job.done}
                aria-valuemax={job.total}
                className="h-2 flex-1 bg-rule"
              >
                <div className="h-full bg-verdigris" style={{ width: `${share * 100}%` }} />
              </div>
              <span className="figure w-44 text-right">
                {showNumber(job.done)} / {showNumber(job.total)} {job.unit}
              </span>
              <span className="w-32 text-ink-2">
                {running ? (left > 0 ? `about ${lengthWords(left)} left` : '') : job.state}
              </span>
              {running && (
                <Button onClick={() => void post(`/jobs/${job.id}/stop`).then(() => askAnew(client, ['desk']))}>
                  Stop
                </Button>
              )}
            </li>
          );
        })}
      </ul>
    </section>
  );
}

function Machines({ desk }: { readonly desk: DeskAnswer }) {
  const { data: coverage } = useCoverage();
  const { search } = useLocation();
  return (
    <section aria-label="Collectors and sources">
      <Heading>Collectors and sources</Heading>
      <div className="border-t border-ink/70">
        {desk.collectors.map((collector) => (
          <div key={collector.name} className="row flex items-center gap-3">
            <span className="figure w-52 shrink-0">{collector.name}</span>
            <span className={`w-24 shrink-0 ${collector.present ? 'text-ink-2' : 'font-semibold text-madder'}`}>
              {collector.present ? 'running' : 'silent'}
            </span>
            <span className="min-w-0 flex-1 truncate text-ink-2">
              {collector.present
                ? `collector · ${collector.spooledEntries === 0 ? 'spool empty' : `${showNumber(collector.spooledSamples)} values on its spool`}`
                : `heard ${showAge(Date.parse(desk.now) - Date.parse(collector.reportedAt))}`}
            </span>
            <span className="figure w-28 text-right">{showNumber(collector.valuesPerSecond, 1)} /s</span>
            <span className="w-36 text-right text-ink-2">
              {collector.version === desk.collectorVersion
                ? `runs version ${desk.version}`
                : `still on version ${collector.version ?? 'none'}`}
            </span>
          </div>
        ))}
        {desk.sources.map((source) => (
          <div key={source.id} className="row flex items-center gap-3">
            <Link
              className="w-52 shrink-0 truncate text-ink"
              to={{ pathname: '/sources', search: searchWith(search, { row: String(source.id) }) }}
            >
              {source.name}
            </Link>
            <span
              className={`w-24 shrink-0 ${source.state?.state === 'watching' ? 'text-ink-2' : 'font-semibold text-madder'}`}
            >
              {source.state?.state ?? 'unknown'}
            </span>
            <div className="min-w-0 flex-1">
              <Strip
                label={source.name}
                row={coverage?.rows.find((row) => row.sourceId === source.id && row.tag === null)}
              />
            </div>
            <span className="figure w-28 text-right">{showNumber(source.state?.valuesPerSecond ?? 0, 1)} /s</span>
            <span className="w-36 text-right text-ink-2">{`${source.tags} tags · ${KINDS[source.kind].words}`}</span>
          </div>
        ))}
        {desk.sources.length === 0 && (
          <p className="py-3 text-ink-2">No source yet. Sources is where the first one is brought in.</p>
        )}
      </div>
    </section>
  );
}

const MOST_GAPS = 4;

/** The newest gaps of the window. */
function NotWatched() {
  const { data } = useGaps();
  const { search } = useLocation();
  const zone = useZone();
  const missing = data?.gaps.filter(({ state }) => state !== 'recovered') ?? [];
  if (missing.length === 0) return null;
  return (
    <section aria-label="Not watched in this window">
      <Heading>
        Not watched in this window{' '}
        <span className="font-normal text-ink-2">
          · {missing.length} {missing.length === 1 ? 'gap' : 'gaps'}
        </span>
      </Heading>
      <ul className="border-t border-rule">
        {missing.slice(0, MOST_GAPS).map((gap) => (
          <li key={`${gap.source}${gap.tag}${gap.from}`} className="row flex items-center gap-3">
            <span className="figure w-52 shrink-0 truncate">
              {windowWords(Date.parse(gap.from), Date.parse(gap.to), zone)}
            </span>
            <span className="figure w-24 shrink-0">{lengthWords(gap.seconds * 1000)}</span>
            <span className="min-w-0 flex-1 truncate">{gap.sentence}</span>
            <span className="w-24 text-right text-ink-2">{gap.tag ?? `${gap.tags} tags`}</span>
            <Link className="text-verdigris" to={{ pathname: '/coverage', search: searchWith(search) }}>
              Show
            </Link>
          </li>
        ))}
      </ul>
    </section>
  );
}

function SetAside({ desk }: { readonly desk: DeskAnswer }) {
  const zone = useZone();
  const { total, newest } = desk.setAside;
  return (
    <section aria-label="Set aside" id="set-aside">
      <Heading>
        Set aside{' '}
        {total > 0 && <span className="font-normal text-ink-2">· {showNumber(total)} in all, the newest first</span>}
      </Heading>
      {total === 0 ? (
        <p className="border-t border-rule py-2 text-ink-2">
          Nothing was refused. A value that cannot be archived is kept here with the reason.
        </p>
      ) : (
        <table className="w-full border-t border-ink/70 text-left">
          <tbody>
            {newest.map((row) => (
              <tr key={row.id} className="row h-8">
                <td className="figure w-52 pr-3 whitespace-nowrap">{stamp(Date.parse(row.at), zone)}</td>
                <td className="figure w-40 pr-3">{row.tag || '—'}</td>
                <td className="figure w-36 pr-3">{row.value}</td>
                <td className="pr-3">{row.reason}</td>
                <td className="w-32 text-ink-2">{row.writer.split('/')[0]}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </section>
  );
}
