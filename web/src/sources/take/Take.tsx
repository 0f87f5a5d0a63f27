/** Taking tags from a source's tree: opened folder by folder, or searched through as a whole. */
import { askedSource, nodeOf, type NewSource, type SourceAddress } from '@wide-ledger/contract';
import { nameIn } from '@wide-ledger/core';
import { useEffect, useMemo, useState } from 'react';
import { useSearchParams } from 'react-router';
import { useDefinitions, useDrafted } from '../../configuration/drafting.ts';
import { Button } from '../../controls/Button.tsx';
import { FilterField } from '../../controls/FilterField.tsx';
import { Page } from '../../controls/Page.tsx';
import { Empty, Failure, Skeleton } from '../../controls/States.tsx';
import { Chosen } from './Chosen.tsx';
import { NodeList } from './NodeList.tsx';
import type { Choice, Placed } from './choice.ts';
import { choicesOf, keyOf, matches } from './proposals.ts';
import { linesOf, type Line } from './lines.ts';
import { ROOT, useTree } from './useTree.ts';

export function Take() {
  const [address] = useSearchParams();
  const id = Number(address.get('source'));
  const { data, error } = useDefinitions('source', Number.isInteger(id) && id > 0 ? [id] : []);
  const body = data?.[0]?.body;
  const source = useMemo<NewSource | null>(() => askedSource(body ?? {}).data ?? null, [body]);
  const { known, load, readThrough } = useTree(source, id);
  const [opened, setOpened] = useState<ReadonlySet<string>>(new Set());
  const [chosen, setChosen] = useState<ReadonlyMap<string, Choice>>(new Map());
  const [words, setWords] = useState('');
  const [all, setAll] = useState<readonly Placed[] | null>(null);
  const [reading, setReading] = useState<number | null>(null);
  const [said, setSaid] = useState('');
  /** Why the tree could not be read through; what was read before stays. */
  const [failed, setFailed] = useState<Error | null>(null);
  const drafted = useDrafted('tag');
  const inDraft = useMemo(
    () =>
      new Set(
        [...drafted.values()].flatMap(({ body: tag }) =>
          // A tag of this source has an address of its kind, or none yet.
          tag?.source === id && tag.address !== null ? [nodeOf(tag.address as SourceAddress) ?? ''] : [],
        ),
      ),
    [drafted, id],
  );

  useEffect(() => {
    if (source) load(ROOT).catch(() => undefined);
  }, [source, load]);
  // A search goes through the whole source, once.
  const searching = words.trim() !== '';
  useEffect(() => {
    if (!searching || all !== null || reading !== null || !source) return;
    setReading(0);
    readThrough(ROOT, [], (found) => setReading(found.length))
      .then(setAll)
      .catch((error: unknown) => {
        setAll([]);
        setFailed(error as Error);
      })
      .finally(() => setReading(null));
  }, [searching, all, reading, source, readThrough]);

  const root = known.get(ROOT);
  const lines = searching
    ? (all ?? [])
        .filter((placed) => choicesOf(placed).length > 0 && matches(placed, words))
        .map((placed): Line => ({ placed, level: 1, open: null, below: null }))
    : linesOf(known, opened);
  // A branch takes a while to be read: what was marked meanwhile stays marked.
  const mark = (choices: readonly Choice[]): void =>
    setChosen((before) => {
      const next = new Map(before);
      const all = choices.every((choice) => next.has(keyOf(choice)));
      for (const choice of choices) {
        if (all) next.delete(keyOf(choice));
        else next.set(keyOf(choice), choice);
      }
      return next;
    });
  const open = (node: string, isOpen: boolean): void => {
    const next = new Set(opened);
    if (isOpen) next.add(node);
    else next.delete(node);
    setOpened(next);
    if (isOpen) load(node).catch(() => undefined);
  };
  const takeBranch = async ({ node, path }: Placed): Promise<void> => {
    setReading(0);
    setFailed(null);
    try {
      const found = await readThrough(node.node, [...path, node.name], (so) => setReading(so.length));
      mark(found.flatMap(choicesOf));
    } catch (error) {
      setFailed(error as Error);
    } finally {
      setReading(null);
    }
  };
  return (
    <>
      <Page
        title="Take tags"
        says={
          reading !== null ? `reading the tree: ${reading} nodes so far` : said || (body ? `from ${nameIn(body)}` : '')
        }
        tools={
          <>
            <FilterField
              label="Search the whole source by name, folder, description or unit"
              hint="name, folder, unit…"
              width="w-60 max-[1100px]:w-44"
              words={words}
              onWords={setWords}
            />
            {searching && lines.length > 0 && (
              <Button onClick={() => mark(lines.flatMap(({ placed }) => choicesOf(placed)))}>Mark all found</Button>
            )}
          </>
        }
      >
        {error && <Failure error={error} />}
        {data && !source && (
          <Empty>There is no such source, or its connection is not complete. Fill it in first, under Sources.</Empty>
        )}
        {root instanceof Error && <Failure error={root} />}
        {failed && !(root instanceof Error) && <Failure error={failed} />}
        {(root === 'loading' || (searching && all === null)) && <Skeleton rows={8} />}
        {Array.isArray(root) && !searching && lines.length === 0 && (
          <Empty>The tree is empty for the user who signs in. Check what the source allows it to see.</Empty>
        )}
        {searching && all !== null && !failed && lines.length === 0 && (
          <Empty>{`Nothing in this source has “${words}”.`}</Empty>
        )}
        <NodeList
          lines={lines}
          flat={searching}
          chosen={chosen}
          inDraft={inDraft}
          onMark={mark}
          onOpen={open}
          onBranch={(placed) => void takeBranch(placed)}
        />
      </Page>
      {source && chosen.size > 0 && (
        <Chosen
          source={id}
          kind={source.kind}
          choices={[...chosen.values()]}
          onClose={() => setChosen(new Map())}
          onTaken={(count) => {
            setChosen(new Map());
            setSaid(`${count === 1 ? '1 tag is' : `${count} tags are`} in the draft`);
          }}
        />
      )}
    </>
  );
}
