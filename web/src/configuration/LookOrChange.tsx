import { Button } from '../controls/Button.tsx';

interface Props {
  readonly changing: boolean;
  readonly onChanging: (changing: boolean) => void;
}

/** Looking at a definition as it is, or changing it in the draft. */
export function LookOrChange({ changing, onChanging }: Props) {
  return (
    <div className="mb-2 flex gap-2" role="group" aria-label="Look at it or change it">
      <Button aria-pressed={!changing} onClick={() => onChanging(false)}>
        As it is
      </Button>
      <Button aria-pressed={changing} onClick={() => onChanging(true)}>
        Change
      </Button>
    </div>
  );
}
