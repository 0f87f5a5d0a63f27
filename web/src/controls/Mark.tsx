interface Props {
  readonly marked: boolean;
  readonly name: string;
  readonly onMark: () => void;
}

/** The box with which a row is marked; by the keyboard it is Space on the row. */
export function Mark({ marked, name, onMark }: Props) {
  return (
    <span
      aria-hidden
      data-mark={name}
      title="Mark it (Space): several rows are changed together"
      className={`inline-block h-3.5 w-3.5 shrink-0 rounded-paper border ${marked ? 'border-ochre bg-ochre' : 'border-rule'}`}
      onClick={(event) => {
        event.stopPropagation();
        onMark();
      }}
    />
  );
}
