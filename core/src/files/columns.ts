/** What the columns of a file are taken for, in words that a person can check before anything is archived. */
import { AGGREGATE_NAMES } from '../aggregates/compute.ts';
import { isGiven, shownCell, type FileCell } from './cells.ts';
import { hasTimeOfDay, isTimeOfDay } from './clock.ts';
import { NumberSurvey, type DecimalMark } from './numbers.ts';
import { QualitySurvey, type QualityFormat } from './qualities.ts';
import { TimeSurvey, describeTimeFormat, type TimeFormat } from './times.ts';

export const COLUMN_ROLES = ['time', 'timeOfDay', 'tag', 'value', 'quality', 'ignored'] as const;
export type ColumnRole = (typeof COLUMN_ROLES)[number];

/** How one column is read. */
export interface ColumnPlan {
  readonly name: string;
  readonly role: ColumnRole;
  /** Of a time column. */
  readonly time?: TimeFormat | undefined;
  /** Of a value column with numbers; undecided: what can be read in two ways is set aside. */
  readonly decimal?: DecimalMark | 'undecided' | undefined;
  /** Of a quality column. */
  readonly quality?: QualityFormat | undefined;
  /** Of a value or quality column: the tag whose values these are; null where a tag column names it. */
  readonly tag?: string | null | undefined;
}

/** A plan for one column with what it is based on. */
export interface UnderstoodColumn extends ColumnPlan {
  readonly sentence: string;
  /** Something a person has to decide. */
  readonly doubtful: boolean;
  readonly examples: string[];
}

const QUALITY_NAME = /quality|status|güte|qualität/i;
const TAG_NAME = /^(tag|name|point|signal)$/i;
const VALUE_NAME = /^(value|wert)$/i;
const TIME_NAME = /time|date|zeit|datum|stamp/i;
const EXAMPLES = 3;

/** The tag whose name a text is, or begins with before a word such as "quality"; undefined for none. */
export type NameTag = (text: string) => string | undefined;

/** One column of a file, looked at from the first cell to the last. */
class ColumnSurvey {
  readonly times = new TimeSurvey();
  readonly numbers = new NumberSurvey();
  readonly qualities = new QualitySurvey();
  readonly examples: string[] = [];
  private given = 0;
  private tags = 0;
  private timesOfDay = 0;
  private dateOnly = 0;

  constructor(
    readonly name: string,
    private readonly tagNamed: NameTag,
  ) {}

  add(cell: FileCell): void {
    if (!isGiven(cell)) return;
    this.given++;
    if (this.examples.length < EXAMPLES) this.examples.push(shownCell(cell));
    this.times.add(cell);
    this.numbers.add(cell);
    this.qualities.add(cell);
    if (typeof cell !== 'string') return;
    if (this.tags === this.given - 1 && this.tagNamed(cell) !== undefined) this.tags++;
    if (isTimeOfDay(cell)) this.timesOfDay++;
    if (!hasTimeOfDay(cell)) this.dateOnly++;
  }

  get time(): TimeFormat | undefined {
    return this.times.format(TIME_NAME.test(this.name));
  }
  get holdsTags(): boolean {
    return this.given > 0 && this.tags === this.given;
  }
  get holdsTimesOfDay(): boolean {
    return this.given > 0 && this.timesOfDay === this.given;
  }
  get holdsDates(): boolean {
    return this.given > 0 && this.dateOnly === this.given;
  }
}

/** Understands columns by their names and all their rows. */
export class FileSurvey {
  private readonly columns: readonly ColumnSurvey[];

  constructor(
    names: readonly string[],
    private readonly tagNamed: NameTag,
  ) {
    this.columns = names.map((name) => new ColumnSurvey(name, tagNamed));
  }

  add(rows: readonly (readonly FileCell[])[]): void {
    for (const row of rows) this.columns.forEach((column, i) => column.add(row[i] ?? null));
  }

  /** @param zone by whose clock times without an offset are read. */
  understand(zone: string): UnderstoodColumn[] {
    const { columns } = this;
    // A column that is called as times are goes before one that merely could be one.
    const timed = columns.filter(({ time }) => time !== undefined);
    const time = timed.find(({ name }) => TIME_NAME.test(name)) ?? timed[0];
    const timeOfDay =
      time?.time?.kind === 'clock' && time.holdsDates ? columns.find((one) => one.holdsTimesOfDay) : undefined;
    const tag = columns.find((one) => one !== time && (TAG_NAME.test(one.name) || one.holdsTags));
    const own = (one: ColumnSurvey): string | null | undefined => (tag ? null : this.tagOf(one.name));
    // A tag may itself be named as qualities are.
    const isQuality = (one: ColumnSurvey): boolean => looksLikeQuality(one) && this.tagNamed(one.name) !== one.name;
    const values = columns.filter(
      (one) =>
        ![time, timeOfDay, tag].includes(one) && !isQuality(one) && own(one) !== undefined && this.isValue(one, tag),
    );
    // A quality that names no tag is of the only one there is.
    const lone = values.length === 1 ? own(values[0]!) : undefined;
    return columns.map((one): UnderstoodColumn => {
      const as = (plan: Omit<ColumnPlan, 'name'>, sentence: string, doubtful = false): UnderstoodColumn => ({
        name: one.name,
        ...plan,
        sentence,
        doubtful,
        examples: one.examples,
      });
      if (one === time) return as({ role: 'time', time: one.time }, ...timeSentence(one.time!, zone));
      if (one === timeOfDay) return as({ role: 'timeOfDay' }, 'Time of day, with the date beside it.');
      if (one === tag) return as({ role: 'tag' }, 'Names the tag of each row.');
      if (isQuality(one)) {
        const whose = own(one) ?? (tag ? null : lone);
        if (whose === undefined) return as({ role: 'ignored' }, 'A quality, but of which tag is not said.', true);
        // Words beside it say what its numbers mean.
        const told = columns.some((other) => other !== one && isQuality(other) && other.qualities.isWords);
        const found = one.qualities.format ?? 'status';
        const quality = told && found === 'undecided' ? 'status' : found;
        return as({ role: 'quality', tag: whose, quality }, ...qualitySentence(quality, whose));
      }
      if (values.includes(one)) {
        const whose = own(one)!;
        const decimal = one.numbers.mark;
        return as({ role: 'value', tag: whose, ...(decimal ? { decimal } : {}) }, ...valueSentence(decimal, whose));
      }
      if (tag) return as({ role: 'ignored' }, 'Not needed.');
      const figure = this.figureOf(one.name);
      if (figure !== undefined) return as({ role: 'ignored' }, `${figure}: computed, no values of the tag itself.`);
      return as({ role: 'ignored' }, `No tag is named ${one.name}.`, true);
    });
  }

  /** Where a tag column names the tags, the values stand in the column that is called so, if there is one. */
  private isValue(one: ColumnSurvey, tag: ColumnSurvey | undefined): boolean {
    if (!tag || VALUE_NAME.test(one.name)) return true;
    return !this.columns.some(({ name }) => VALUE_NAME.test(name)) && one.time === undefined;
  }

  private tagOf(name: string): string | undefined {
    return this.figureOf(name) === undefined ? this.tagNamed(name) : undefined;
  }

  /** The name of a column that holds an aggregate of a tag, as the archive's own tables have them. */
  private figureOf(name: string): string | undefined {
    const tag = this.tagNamed(name);
    if (tag === undefined || !name.startsWith(`${tag} `)) return undefined;
    const [word] = name.slice(tag.length + 1).split(' ');
    return AGGREGATE_NAMES.some((aggregate) => aggregate === word) ? `${word} of ${tag}` : undefined;
  }
}

const looksLikeQuality = ({ name, qualities, numbers }: ColumnSurvey): boolean =>
  (QUALITY_NAME.test(name) && qualities.format !== undefined) || (qualities.isWords && numbers.mark === undefined);

function timeSentence(time: TimeFormat, zone: string): [string, boolean] {
  const words = describeTimeFormat(time, zone);
  const undecided = time.kind === 'clock' && time.order === 'undecided';
  return [`Time: ${words}.${undecided ? ' Say which comes first.' : ''}`, undecided];
}

const whoseWords = (tag: string | null): string => tag ?? 'the row’s tag';

function qualitySentence(format: QualityFormat, tag: string | null): [string, boolean] {
  const whose = `Quality of ${whoseWords(tag)}`;
  switch (format) {
    case 'byte':
      return [`${whose}: a byte, 192 for Good, 64 for Uncertain, 0 for Bad.`, false];
    case 'undecided':
      return [`${whose}: 0 throughout, which is Good as a status and Bad as a byte. Say which.`, true];
    default:
      return [`${whose}.`, false];
  }
}

function valueSentence(decimal: DecimalMark | 'undecided' | undefined, tag: string | null): [string, boolean] {
  const whose = `Values of ${whoseWords(tag)}`;
  switch (decimal) {
    case undefined:
      return [`${whose}: text.`, false];
    case 'undecided':
      return [`${whose}: numbers whose comma may be a decimal mark or stand between thousands. Say which.`, true];
    case 'comma':
      return [`${whose}: numbers with a decimal comma.`, false];
    case 'point':
      return [`${whose}: numbers.`, false];
  }
}

/** Understands columns whose rows are all at hand. */
export function understandColumns(
  names: readonly string[],
  rows: readonly (readonly FileCell[])[],
  tagNamed: NameTag,
  zone: string,
): UnderstoodColumn[] {
  const survey = new FileSurvey(names, tagNamed);
  survey.add(rows);
  return survey.understand(zone);
}
