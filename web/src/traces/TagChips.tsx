/** The tags of the chart: which pen, which axis, held or sloped, and which one the table is about. */
import { X } from 'lucide-react';
import { FindTag } from '../controls/FindTag.tsx';
import { penOf, type Trace } from './chart.ts';
import { MOST_TAGS } from './useTraceView.ts';

interface Props {
  readonly traces: readonly Trace[];
  readonly lanes: boolean;
  readonly focused: string | null;
  readonly onFocus: (tag: string) => void;
  readonly onStepped: (tag: string, stepped: boolean) => void;
  readonly onTakeAway: (tag: string) => void;
}

export function TagChips({ traces, lanes, focused, onFocus, onStepped, onTakeAway }: Props) {
  return traces.map((trace, index) => (
    <span
      key={trace.tag}
      className={`flex items-center rounded-paper border ${trace.tag === focused ? 'border-verdigris bg-raised' : 'border-rule'}`}
    >
      <button
        className="flex items-center gap-1.5 py-1 pl-2"
        aria-pressed={trace.tag === focused}
        onClick={() => onFocus(trace.tag)}
        title="Shows this tag in the table"
      >
        <svg width="22" height="6" aria-hidden>
          <line
            x1="0"
            y1="3"
            x2="22"
            y2="3"
            stroke={`var(${penOf(index).colour})`}
            strokeWidth="2.2"
            strokeDasharray={penOf(index).dash.join(' ')}
          />
        </svg>
        <span className="figure">{trace.tag}</span>
        <span className="text-ink-2">
          {trace.unit}
          {lanes ? '' : trace.right ? ', right' : ', left'}
        </span>
      </button>
      <button
        className="px-1.5 py-1 text-ink-2 hover:text-ink"
        aria-label={`${trace.tag}: ${trace.stepped ? 'held until the next value' : 'straight line between values'}. Change`}
        title={trace.stepped ? 'Held until the next value' : 'Straight line between values'}
        onClick={() => onStepped(trace.tag, !trace.stepped)}
      >
        <svg width="16" height="12" aria-hidden fill="none" stroke="currentColor" strokeWidth="1.5">
          <path d={trace.stepped ? 'M1 10H6V3H11V7H15' : 'M1 10L6 3L11 7L15 2'} />
        </svg>
      </button>
      <button
        aria-label={`Take ${trace.tag} away`}
        className="px-1.5 py-1 text-ink-2 hover:text-ink"
        onClick={() => onTakeAway(trace.tag)}
      >
        <X size={13} aria-hidden />
      </button>
    </span>
  ));
}

interface AddProps {
  readonly chosen: readonly string[];
  readonly onAdd: (name: string) => void;
}

export const AddTag = ({ chosen, onAdd }: AddProps) => (
  <FindTag
    id="found-tags"
    label="Add a tag"
    placeholder="/  add a tag…"
    isFilter
    without={chosen}
    disabled={chosen.length >= MOST_TAGS}
    className="h-[30px] w-40 rounded-paper border border-edge bg-raised px-2.5"
    onFind={({ name }) => onAdd(name)}
  />
);
