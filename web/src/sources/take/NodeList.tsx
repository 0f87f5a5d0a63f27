/** Nodes of a source, line by line, with what they hold now; only what can be seen is drawn. */
import { useVirtualizer } from '@tanstack/react-virtual';
import { useRef } from 'react';
import { Mark } from '../../controls/Mark.tsx';
import { TreeRow } from '../../controls/TreeRow.tsx';
import type { Line } from './lines.ts';
import type { Choice, Placed } from './choice.ts';
import { choicesOf, keyOf } from './proposals.ts';

const ROW_HEIGHT = 30;

interface Props {
  readonly lines: readonly Line[];
  /** Found by a search: folders are said in words. */
  readonly flat: boolean;
  readonly chosen: ReadonlyMap<string, Choice>;
  readonly inDraft: ReadonlySet<string>;
  readonly onMark: (choices: readonly Choice[]) => void;
  readonly onOpen: (node: string, isOpen: boolean) => void;
  readonly onBranch: (placed: Placed) => void;
}

export function NodeList({ lines, flat, chosen, inDraft, onMark, onOpen, onBranch }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const virtual = useVirtualizer({
    count: lines.length,
    getScrollElement: () => box.current,
    estimateSize: () => ROW_HEIGHT,
    overscan: 20,
  });
  return (
    <>
      <div className="flex h-8 shrink-0 items-center gap-2 border-b border-ink/70 pr-4 text-ink-2">
        <span className="min-w-0 flex-1 pl-8">Name</span>
        <span className="w-24">Type</span>
        <span className="w-24 text-right">Range</span>
        <span className="w-36 text-right">Now</span>
        <span className="w-28">Taken as</span>
      </div>
      <div ref={box} role="tree" aria-label="Nodes" aria-multiselectable className="min-h-0 flex-1 overflow-y-auto">
        <div role="presentation" className="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(({ index, start, size }) => {
            const line = lines[index]!;
            const { node, path } = line.placed;
            const choices = choicesOf(line.placed);
            const marked = choices.length > 0 && choices.every((choice) => chosen.has(keyOf(choice)));
            const choose = (): void => {
              if (choices.length > 0) onMark(choices);
              else if (line.open !== null) onOpen(node.node, !line.open);
            };
            return (
              <div
                key={`${path.join('/')} ${node.node}`}
                role="presentation"
                data-node={node.node}
                className="absolute inset-x-0"
                style={{ transform: `translateY(${start}px)`, height: size }}
              >
                <TreeRow
                  level={line.level}
                  open={line.open}
                  onOpen={(isOpen) => onOpen(node.node, isOpen)}
                  selected={false}
                  onSelect={choose}
                  marked={marked}
                  onMark={choose}
                >
                  {choices.length > 0 && <Mark marked={marked} name={node.node} onMark={choose} />}
                  <span className="min-w-0 flex-1 truncate" title={`${node.description} ${node.node}`}>
                    {flat && path.length > 0 && <span className="text-ink-2">{path.join(' / ')} / </span>}
                    {node.name} <span className="text-ink-2">{node.description}</span>
                    {line.below === 'loading' && <span className="text-ink-2"> · opening …</span>}
                    {line.below instanceof Error && <span className="text-madder"> · {line.below.message}</span>}
                  </span>
                  {node.hasBelow && !flat && (
                    <button
                      type="button"
                      className="h-6 whitespace-nowrap text-ink-2 underline hover:text-ink"
                      onClick={(event) => {
                        event.stopPropagation();
                        onBranch(line.placed);
                      }}
                    >
                      mark the branch
                    </button>
                  )}
                  <span className="w-24 truncate text-ink-2" title={node.typeWords}>
                    {node.typeWords}
                  </span>
                  <span className="figure w-24 text-right text-ink-2">
                    {node.low !== null && node.high !== null ? `${node.low} – ${node.high}` : ''}
                  </span>
                  <span className="w-36 truncate text-right">
                    <span className={`figure ${node.quality === 'Good' || node.quality === null ? '' : 'text-madder'}`}>
                      {node.value ?? ''}
                    </span>{' '}
                    <span className="figure text-ink-2">{node.unit}</span>
                  </span>
                  <span className="figure w-28 truncate text-ink-2">
                    {node.taken.join(', ') || (inDraft.has(node.node) ? 'in your draft' : '')}
                  </span>
                </TreeRow>
              </div>
            );
          })}
        </div>
      </div>
    </>
  );
}
