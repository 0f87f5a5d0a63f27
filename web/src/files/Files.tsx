/** Files: history brought in from CSV, XLSX, Parquet or JSON: understood column by column, rehearsed, then archived. */
import type { ImportPlan, ImportReport, ImportedFile } from '@wide-ledger/contract';
import { useMutation, useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useSearchParams } from 'react-router';
import { Button } from '../controls/Button.tsx';
import { Page } from '../controls/Page.tsx';
import { Empty, Failure } from '../controls/States.tsx';
import { showNumber } from '../controls/values.ts';
import { get, post, postFile } from '../server/calls.ts';
import { useSiteZone } from '../server/queries.ts';
import { useWindowState } from '../window/windowStore.ts';
import { ColumnTable } from './ColumnTable.tsx';

type Columns = ImportedFile['columns'];

const planOf = (zone: string, columns: Columns, overlap: ImportPlan['overlap']): ImportPlan => ({
  overlap,
  zone,
  columns: columns.map(({ sentence: _sentence, doubtful: _doubtful, examples: _examples, ...plan }) => plan),
});

const FOLLOW_MILLISECONDS = 500;

export function Files() {
  const otherZone = useWindowState((state) => state.otherZone);
  const siteZone = useSiteZone();
  const [columns, setColumns] = useState<Columns>([]);
  const [search] = useSearchParams();
  const [overlap, setOverlap] = useState<ImportPlan['overlap']>(search.get('overlap') === 'fill' ? 'fill' : 'replace');
  const take = useMutation({
    mutationFn: async ({ content, sheet }: { readonly content: File; readonly sheet: string | undefined }) =>
      postFile<ImportedFile>('/imports', { name: content.name, zone: otherZone ?? (await siteZone()), sheet }, content),
    onSuccess: (file) => setColumns(file.columns),
  });
  const choose = (content: File, sheet?: string): void => {
    run.reset();
    rehearse.reset();
    take.mutate({ content, sheet });
  };
  const file = take.data;
  const rehearse = useMutation({
    mutationFn: () => post<ImportReport>(`/imports/${file!.id}/rehearsal`, planOf(file!.zone, columns, overlap)),
  });
  const run = useMutation({
    mutationFn: () => post<ImportedFile>(`/imports/${file!.id}/run`, planOf(file!.zone, columns, overlap)),
  });
  const { data: progress } = useQuery({
    queryKey: ['import', file?.id],
    queryFn: () => get<ImportedFile>(`/imports/${file!.id}`),
    enabled: run.isSuccess,
    refetchInterval: ({ state }) => (state.data?.state === 'running' ? FOLLOW_MILLISECONDS : false),
  });
  const change = (index: number, change: Partial<Columns[number]>): void => {
    rehearse.reset();
    setColumns(columns.map((column, i) => (i === index ? { ...column, ...change } : column)));
  };
  const usable = columns.some(({ role }) => role === 'time') && columns.some(({ role }) => role === 'value');
  const running = run.isPending || progress?.state === 'running';
  const error = take.error ?? rehearse.error ?? run.error;
  return (
    <Page
      title="Files"
      says={file && `${file.name}, times without an offset by the clock of ${file.zone}`}
      tools={
        <label className="flex h-[30px] cursor-pointer items-center rounded-paper border border-verdigris bg-verdigris px-2.5 text-on-verdigris focus-within:outline-2">
          Choose a file
          <input
            type="file"
            accept=".csv,.txt,.xlsx,.parquet,.json"
            className="sr-only"
            onChange={(event) => {
              const [chosen] = event.target.files ?? [];
              if (chosen) choose(chosen);
            }}
          />
        </label>
      }
    >
      {error && <Failure error={error} />}
      {!file && !take.isPending && (
        <Empty>
          Choose a CSV, XLSX, Parquet or JSON file. Its columns are shown as they were understood; nothing is archived
          before you say so.
        </Empty>
      )}
      {take.isPending && <p role="status">Reading the file …</p>}
      {file && (
        <div className="min-h-0 flex-1 overflow-y-auto" tabIndex={0}>
          {(file.sentence !== '' || file.sheets.length > 1) && (
            <p className="mb-2 flex items-center gap-3">
              <span className="text-ink-2">{file.sentence}</span>
              {file.sheets.length > 1 && (
                <SheetChoice
                  sheets={file.sheets}
                  sheet={file.sheet}
                  onChoose={(sheet) => choose(take.variables.content, sheet)}
                />
              )}
            </p>
          )}
          <ColumnTable columns={columns} onChange={change} />
          <div className="my-3 flex items-center gap-2">
            <select
              aria-label="Which values"
              className="h-[30px] rounded-paper border border-rule bg-raised px-1"
              value={overlap}
              disabled={running || run.isSuccess}
              onChange={(event) => {
                setOverlap(event.target.value as ImportPlan['overlap']);
                rehearse.reset();
              }}
            >
              <option value="replace">all of its values</option>
              <option value="fill">only where nothing is</option>
            </select>
            <Button disabled={!usable || rehearse.isPending || running} onClick={() => rehearse.mutate()}>
              {rehearse.isPending ? 'Rehearsing …' : 'Rehearse'}
            </Button>
            <Button main disabled={!usable || running || run.isSuccess} onClick={() => run.mutate()}>
              Archive
            </Button>
            {progress?.state === 'running' && (
              <Button onClick={() => void post(`/imports/${file.id}/stop`)}>Stop</Button>
            )}
            <span className="text-ink-2" role="status">
              {progress?.sentence ?? (!usable ? 'One column has to be the time, and one the values of a tag.' : '')}
            </span>
          </div>
          {progress?.report ? (
            <Report report={progress.report} title="Archived" />
          ) : (
            rehearse.data && <Report report={rehearse.data} title="It would be so" />
          )}
        </div>
      )}
    </Page>
  );
}

function SheetChoice({
  sheets,
  sheet,
  onChoose,
}: {
  readonly sheets: readonly string[];
  readonly sheet: string | null;
  readonly onChoose: (sheet: string) => void;
}) {
  return (
    <select
      aria-label="Sheet"
      className="h-[26px] rounded-paper border border-rule bg-raised px-1"
      value={sheet ?? ''}
      onChange={(event) => onChoose(event.target.value)}
    >
      {sheet === null && <option value="">another sheet</option>}
      {sheets.map((name) => (
        <option key={name}>{name}</option>
      ))}
    </select>
  );
}

function Report({ report, title }: { readonly report: ImportReport; readonly title: string }) {
  const figures: readonly (readonly [string, number])[] = [
    ['rows', report.rows],
    ['values', report.values],
    ['accepted', report.accepted],
    ['of these replacing another', report.replaced],
    ['unchanged', report.unchanged],
    ['set aside', report.setAside],
    ...(report.leftAlone === undefined ? [] : [['left alone', report.leftAlone] as const]),
  ];
  return (
    <section aria-label={title} data-testid="import-report">
      <h2 className="mb-1 font-semibold">{title}</h2>
      <p className="mb-2">
        {figures.map(([name, count]) => (
          <span key={name} className="mr-4">
            <span className="figure">{showNumber(count)}</span> <span className="text-ink-2">{name}</span>{' '}
          </span>
        ))}
      </p>
      {report.reasons.map(({ row, tag, value, reason }, i) => (
        <p key={i} className="border-b border-rule py-1">
          <span className="figure text-ink-2">row {row}</span> {tag} <span className="figure">{value}</span>: {reason}
        </p>
      ))}
    </section>
  );
}
