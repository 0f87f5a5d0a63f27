/** Who sends what to whom, as far as this site knows: whoever brings something at the left, where it goes at the right. */
import type { ArrivingLink, SendingLink } from '@wide-ledger/contract';
import { Handle, Position, ReactFlow, type Edge, type Node, type NodeProps } from '@xyflow/react';
import '@xyflow/react/dist/base.css';
import { useMemo } from 'react';
import { showNumber } from '../controls/values.ts';
import { ARRIVING_COLOURS, SENDING_COLOURS } from './states.ts';

interface Shown extends Record<string, unknown> {
  readonly title: string;
  readonly below: string;
  readonly state: string;
  readonly colour: string;
  readonly side: 'from' | 'here' | 'to';
  readonly selected: boolean;
  readonly onOpen: (() => void) | null;
}
type SiteNode = Node<Shown, 'site'>;

const WIDTH = 220;
const COLUMN = 330;
const ROW = 92;
const HERE = 'here';

interface Props {
  readonly site: string;
  readonly sending: readonly SendingLink[];
  readonly arriving: readonly ArrivingLink[];
  readonly selected: string | null;
  readonly onSelect: (key: string) => void;
}

export default function LinkMap({ site, sending, arriving, selected, onSelect }: Props) {
  const { nodes, edges } = useMemo(
    () => drawn(site, sending, arriving, selected, onSelect),
    [site, sending, arriving, selected, onSelect],
  );
  return (
    <div className="min-h-0 flex-1 border-y border-rule" data-testid="map">
      <ReactFlow
        nodes={nodes}
        edges={edges}
        nodeTypes={NODES}
        fitView
        fitViewOptions={{ maxZoom: 1, padding: 0.1 }}
        nodesDraggable={false}
        nodesConnectable={false}
        nodesFocusable={false}
        edgesFocusable={false}
        elementsSelectable={false}
        proOptions={{ hideAttribution: true }}
      />
    </div>
  );
}

/** Nodes of one side, in the middle of the height that both sides need. */
const heightAt = (i: number, count: number): number => (i - (count - 1) / 2) * ROW;

function drawn(
  site: string,
  sending: readonly SendingLink[],
  arriving: readonly ArrivingLink[],
  selected: string | null,
  onSelect: (key: string) => void,
): { nodes: SiteNode[]; edges: Edge[] } {
  const nodeOf = (id: string, x: number, y: number, data: Shown): SiteNode => ({
    id,
    type: 'site',
    position: { x, y },
    // Without it only the pane behind is clicked on.
    style: { pointerEvents: 'all' },
    data,
  });
  const edgeOf = (id: string, source: string, target: string, wrong: boolean, label: string): Edge => ({
    id: `edge ${id}`,
    source,
    target,
    label,
    style: { stroke: wrong ? 'var(--color-madder)' : 'var(--color-plum)', strokeDasharray: wrong ? '6 4' : undefined },
    labelStyle: { fill: 'var(--color-ink-2)' },
    labelBgStyle: { fill: 'var(--color-paper)' },
  });
  const tagsWords = (tags: number): string => `${showNumber(tags)} ${tags === 1 ? 'tag' : 'tags'}`;
  const nodes = [
    nodeOf(HERE, 0, 0, {
      title: site,
      below: 'this site',
      state: '',
      colour: '',
      side: 'here',
      selected: false,
      onOpen: null,
    }),
  ];
  const edges: Edge[] = [];
  arriving.forEach(({ id, name, site: from, state, tags, samples }, i) => {
    const key = `arriving:${id}`;
    nodes.push(
      nodeOf(key, -COLUMN, heightAt(i, arriving.length), {
        title: from?.name ?? name,
        below: `${showNumber(samples)} values`,
        state,
        colour: ARRIVING_COLOURS[state],
        side: 'from',
        selected: key === selected,
        onOpen: () => onSelect(key),
      }),
    );
    edges.push(edgeOf(key, key, HERE, state === 'silent' || state === 'revoked', tagsWords(tags)));
  });
  sending.forEach(({ id, url, farName, state, tags, samples }, i) => {
    const key = `sending:${id}`;
    nodes.push(
      nodeOf(key, COLUMN, heightAt(i, sending.length), {
        title: farName ?? url,
        below: `${showNumber(samples)} values`,
        state,
        colour: SENDING_COLOURS[state],
        side: 'to',
        selected: key === selected,
        onOpen: () => onSelect(key),
      }),
    );
    edges.push(edgeOf(key, HERE, key, state === 'away', tagsWords(tags)));
  });
  return { nodes, edges };
}

function SiteBox({ data: { title, below, state, colour, side, selected, onOpen } }: NodeProps<SiteNode>) {
  const look = `block rounded-paper border px-3 py-2 text-left ${selected ? 'border-verdigris' : 'border-edge'} bg-raised`;
  const words = (
    <>
      <span className="block truncate font-semibold">{title}</span>
      <span className="block truncate">
        {state !== '' && <span className={colour}>{state} </span>}
        <span className="text-ink-2">{below}</span>
      </span>
    </>
  );
  return (
    <>
      {side !== 'from' && <Handle type="target" position={Position.Left} className="opacity-0" />}
      {onOpen ? (
        <button type="button" className={look} style={{ width: WIDTH }} onClick={onOpen}>
          {words}
        </button>
      ) : (
        <div className={look} style={{ width: WIDTH }}>
          {words}
        </div>
      )}
      {side !== 'to' && <Handle type="source" position={Position.Right} className="opacity-0" />}
    </>
  );
}

const NODES = { site: SiteBox };
