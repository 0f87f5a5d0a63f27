/** Examinations: jobs that go through the data of tags and write down what these betray. */
import type { ExaminationReport } from '@wide-ledger/contract';
import { DOUBT_CELLS, SECOND, formatInstant, type Span } from '@wide-ledger/core';
import { randomUUID } from 'node:crypto';
import type { PoolClient } from 'pg';
import type { Catalogue, TagRow } from '../../configuration/index.ts';
import type { Jobs, Run } from '../../ground/index.ts';
import type { Coverage } from '../coverage/coverage.ts';
import type { ExaminedTag, ExaminingLine, ExaminingRequest, FoundDoubt } from '../reading/examining.ts';
import type { ReadingPool } from '../reading/pool.ts';
import { wordsOf } from './words.ts';

/** Tags that are looked at together. A larger place is taken in parts. */
const GROUP = 60;
/** Of tags that lie beside those asked for so many are looked at. */
const MOST_BESIDE = 30;
/** Doubts of so many examinations are kept. */
const KEPT = 50;

interface ExaminationPlan {
  readonly tags: readonly number[];
  readonly window: Span;
}

interface Cursor {
  /** Groups that are done. */
  readonly groups: number;
}

/** Looks for doubts, as jobs. */
export class Examinations {
  constructor(
    private readonly catalogue: Catalogue,
    private readonly coverage: Coverage,
    private readonly reading: ReadingPool,
    private readonly jobs: Jobs,
  ) {
    jobs.register<ExaminationPlan, Cursor>('examination', {
      unit: 'tags',
      tries: 'again and again',
      run: (run) => this.run(run),
    });
  }

  /** Starts one. @param title what is examined. @returns the job's number. */
  async start(tags: readonly TagRow[], window: Span, title: string, by: string): Promise<number> {
    const plan: ExaminationPlan = { tags: tags.map(({ id }) => id), window };
    const { id } = await this.jobs.start({
      kind: 'examination',
      key: randomUUID(),
      title,
      plan,
      total: tags.length,
      by,
      again: false,
    });
    return id;
  }

  private async run(run: Run<ExaminationPlan, Cursor>): Promise<string | null> {
    const { tags: numbers, window } = run.plan;
    await this.catalogue.refresh();
    const tags = numbers.flatMap((id) => this.catalogue.tagById(id) ?? []);
    const groups = groupsOf(tags, this.catalogue.tags);
    let done = 0;
    for (const [place, group] of groups.entries()) {
      const own = group.filter(({ beside }) => !beside).length;
      if (place >= (run.cursor?.groups ?? 0)) {
        const looked = await Promise.all(group.map((one) => this.examined(one)));
        const last = await this.follow(run, { kind: 'motion', window, tags: looked }, done);
        if (last === null) return null;
        const cursor: Cursor = { groups: place + 1 };
        const kept = await run.step(async (client) => {
          await this.write(client, run.id, last.found ?? []);
          return { done: done + own, cursor };
        });
        if (!kept) return null;
      }
      done += own;
    }
    const asked = tags.map(({ id, sourceId }) => ({ tag: id, source: sourceId }));
    const last = await this.follow(run, { kind: 'arrival', window, tags: asked }, done);
    if (last === null) return null;
    let doubts = 0;
    const ended = await run.step(async (client) => {
      await this.write(client, run.id, last.found ?? []);
      const { rows } = await client.query<{ doubts: number }>(
        'SELECT count(*)::int AS doubts FROM doubt WHERE job_id = $1',
        [run.id],
      );
      doubts = rows[0]!.doubts;
      await client.query(
        `DELETE FROM doubt WHERE job_id < (SELECT min(id) FROM (SELECT id FROM job WHERE kind = 'examination' ORDER BY id DESC LIMIT ${KEPT}) AS newest)`,
      );
      const report: ExaminationReport = {
        from: formatInstant(window.from),
        to: formatInstant(window.to),
        tags: tags.length,
        doubts,
        shortestSeconds: (2 * (window.to - window.from)) / DOUBT_CELLS / SECOND,
        journalFrom: last.since === null || last.since === undefined ? null : formatInstant(last.since),
      };
      return { report, cursor: { groups: groups.length } };
    });
    return ended ? (doubts === 0 ? 'Nothing was found.' : `${doubts} ${doubts === 1 ? 'doubt' : 'doubts'}.`) : null;
  }

  /** Asks a reading thread and says how far it is. @returns its last line; null: it is to stop. */
  private async follow(
    run: Run<ExaminationPlan, Cursor>,
    request: ExaminingRequest,
    done: number,
  ): Promise<ExaminingLine | null> {
    let last: ExaminingLine = { done: 0, total: 0 };
    for await (const chunk of this.reading.read(request, `examination ${run.id}`, new AbortController().signal)) {
      last = JSON.parse(chunk as string) as ExaminingLine;
      if (last.found) break;
      const goesOn = await run.step(() => Promise.resolve(progressOf(request, last, done)));
      if (!goesOn) return null;
    }
    return last;
  }

  private async examined({ tag, beside }: GroupTag): Promise<ExaminedTag> {
    const { id, low, high, unit, type, counter, sourceId, storeId: store } = tag;
    const moves = type === 'real' || type === 'integer';
    return {
      id,
      low,
      high,
      unit,
      store,
      beside,
      moves,
      counts: counter !== null,
      holds: sourceId !== null,
      intervalMilliseconds: moves && counter === null ? askedEvery(tag) : null,
      watchedUntil: await this.coverage.watchedUntil(tag),
    };
  }

  private async write(client: PoolClient, job: number, found: readonly FoundDoubt[]): Promise<void> {
    const rows = found.map(({ tag, source, doubt }) => {
      const { kind, from, to, ...evidence } = doubt;
      const row = tag === null ? undefined : this.catalogue.tagById(tag);
      const about = { tag, source: source ?? row?.sourceId ?? null };
      const since = Math.round(from);
      return { ...about, kind, since, until: Math.round(to), sentence: wordsOf(doubt, row?.unit ?? ''), evidence };
    });
    await client.query(
      `INSERT INTO doubt (job_id, kind, tag_id, source_id, since, until, sentence, evidence)
         SELECT $1, kind, tag, source, since, until, sentence, evidence FROM jsonb_to_recordset($2)
           AS d(kind text, tag int, source int, since bigint, until bigint, sentence text, evidence jsonb)`,
      [job, JSON.stringify(rows)],
    );
  }
}

function progressOf({ kind }: ExaminingRequest, { done, total }: ExaminingLine, before: number) {
  if (kind === 'motion') return { sentence: 'Looking at how tags move.', done: before };
  return { sentence: `Looking at the order of arrival: ${total === 0 ? 100 : Math.floor((100 * done) / total)} %.` };
}

/** How often a tag is asked for; null where nobody does, or as fast as it answers, which nobody knows beforehand. */
function askedEvery({ sourceId, reading }: TagRow): number | null {
  const every = sourceId === null ? 0 : (reading?.intervalMilliseconds ?? 0);
  return every === 0 ? null : every;
}

interface GroupTag {
  readonly tag: TagRow;
  readonly beside: boolean;
}

/** Where a tag lies; where nobody said so, tags of one source lie together. */
const whereOf = ({ place, sourceId }: TagRow): string => (place === '' ? `\0${sourceId ?? ''}` : place);

function byWhere(tags: readonly TagRow[]): Map<string, TagRow[]> {
  const found = new Map<string, TagRow[]>();
  for (const tag of tags) {
    const known = found.get(whereOf(tag));
    if (known) known.push(tag);
    else found.set(whereOf(tag), [tag]);
  }
  return found;
}

/** Tags that lie together, with some that lie beside them. @param all tags in force. */
function groupsOf(tags: readonly TagRow[], all: readonly TagRow[]): GroupTag[][] {
  const wanted = new Set(tags.map(({ id }) => id));
  const others = byWhere(all.filter(({ id }) => !wanted.has(id)));
  return [...byWhere(tags)].flatMap(([where, own]) => {
    const beside = (others.get(where) ?? []).slice(0, MOST_BESIDE).map((tag) => ({ tag, beside: true }));
    const parts: GroupTag[][] = [];
    for (let at = 0; at < own.length; at += GROUP)
      parts.push([...own.slice(at, at + GROUP).map((tag) => ({ tag, beside: false })), ...beside]);
    return parts;
  });
}
