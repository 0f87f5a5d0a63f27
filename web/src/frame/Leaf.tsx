/** The leaf: inspector of the selected row, beside what is compared, never over it. */
import { X } from 'lucide-react';
import type { ReactNode } from 'react';

interface Props {
  readonly title: ReactNode;
  readonly below?: ReactNode;
  readonly onClose: () => void;
  readonly children: ReactNode;
}

export function Leaf({ title, below, onClose, children }: Props) {
  return (
    <aside
      aria-label="Leaf"
      data-testid="leaf"
      className="flex w-[318px] shrink-0 flex-col overflow-y-auto border-l border-rule bg-raised px-4 py-3 max-[1100px]:w-[272px]"
    >
      <div className="mb-2 flex items-start gap-2">
        <div className="min-w-0 flex-1">
          <h2 className="figure truncate text-[14px] font-semibold">{title}</h2>
          <p className="text-ink-2">{below}</p>
        </div>
        <button
          aria-label="Close the leaf (Escape)"
          className="rounded-paper p-1 text-ink-2 hover:text-ink"
          onClick={onClose}
        >
          <X size={15} aria-hidden />
        </button>
      </div>
      {children}
    </aside>
  );
}
