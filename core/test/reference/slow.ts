/**
 * A second implementation of the aggregates, slow and plain: it looks at every second of an interval by itself and
 * shares nothing with the engine but the names. Rules as in OPC 10000-13 with the decisions D1 to D21.
 *
 * Times are whole seconds; values lie at whole seconds; so a second never holds more than one line.
 */

export type Quality = 'good' | 'uncertain' | 'bad';

export interface Sample {
  readonly time: number;
  readonly value: number;
  readonly quality: Quality;
}

export interface Settings {
  readonly treatUncertainAsBad: boolean;
  readonly percentDataBad: number;
  readonly percentDataGood: number;
  readonly useSlopedExtrapolation: boolean;
  readonly stepped: boolean;
}

export interface Interval {
  readonly begin: number;
  readonly finish: number;
  readonly truncated: boolean;
}

/** `status`: severity and bits in words, as `Good,C,P`; `BND` is Bad_NoData. */
export interface Row {
  readonly time: number;
  readonly value: number;
  readonly status: string;
}

interface Bound {
  readonly value: number;
  readonly quality: Quality | 'missing';
  readonly interpolated: boolean;
}

const MISSING: Bound = { value: NaN, quality: 'missing', interpolated: true };

export class Slow {
  private readonly dataStart: number;
  private readonly dataEnd: number;

  constructor(
    private readonly samples: readonly Sample[],
    private readonly settings: Settings,
    watchedUntil = -Infinity,
  ) {
    this.dataStart = samples[0]?.time ?? Infinity;
    this.dataEnd = Math.max(samples.at(-1)?.time ?? -Infinity, watchedUntil);
  }

  private usable = (sample: Sample | undefined): sample is Sample =>
    sample !== undefined &&
    sample.quality !== 'bad' &&
    !(sample.quality === 'uncertain' && this.settings.treatUncertainAsBad);

  private at = (time: number): Sample | undefined => this.samples.find((sample) => sample.time === time);
  private before = (time: number): Sample[] => this.samples.filter((sample) => sample.time < time).reverse();
  private after = (time: number): Sample[] => this.samples.filter((sample) => sample.time > time);

  private line = (time: number, a: Sample, b: Sample): number =>
    a.value + ((time - a.time) / (b.time - a.time)) * (b.value - a.value);

  /** 3.1.8: between the nearest usable values, however many others lie between. */
  private interpolatedBound(time: number, stepped: boolean): Bound {
    const here = this.at(time);
    if (this.usable(here)) return { value: here.value, quality: here.quality, interpolated: false };
    const [before, earlier] = this.before(time).filter(this.usable);
    const after = this.after(time).find(this.usable);
    if (!before) return MISSING;
    const cleanBefore = !here && this.before(time)[0] === before && before.quality === 'good';
    const bound = (value: number, good: boolean): Bound => ({
      value,
      quality: good ? 'good' : 'uncertain',
      interpolated: true,
    });
    if (stepped && after) return bound(before.value, cleanBefore);
    if (after) {
      const cleanAfter = this.after(time)[0] === after && after.quality === 'good';
      return bound(this.line(time, before, after), cleanBefore && cleanAfter);
    }
    // After the last usable value: known while watched, else extrapolated.
    if (!here && this.after(time).length === 0 && time <= this.dataEnd) return bound(before.value, cleanBefore);
    if (this.settings.useSlopedExtrapolation && !stepped && earlier) {
      return bound(this.line(time, earlier, before), false);
    }
    return bound(before.value, stepped && cleanBefore && this.after(time).length > 0);
  }

  /** 3.1.9: the immediate neighbours, whatever they are. */
  private simpleBound(time: number): Bound {
    const here = this.at(time);
    if (here) return { value: here.value, quality: here.quality, interpolated: false };
    const [before] = this.before(time);
    const [after] = this.after(time);
    if (!this.usable(before)) return MISSING;
    const good = before.quality === 'good';
    const bound = (value: number, clean: boolean): Bound => ({
      value,
      quality: clean ? 'good' : 'uncertain',
      interpolated: true,
    });
    if (!after) return bound(before.value, good && time <= this.dataEnd);
    if (this.settings.stepped) return bound(before.value, good);
    if (!this.usable(after)) return bound(before.value, false);
    return bound(this.line(time, before, after), good && after.quality === 'good');
  }

  /** D16: what was derived is a bound; a raw value counts as it is to be treated. */
  private boundUsable = ({ quality, interpolated }: Bound): boolean =>
    quality === 'good' || (quality === 'uncertain' && (interpolated || !this.settings.treatUncertainAsBad));

  /** One aggregate of one interval; undefined where the data end where the interval begins: the standard is silent. */
  row(name: string, { begin, finish, truncated }: Interval): Row | undefined {
    const { settings } = this;
    const forward = begin < finish;
    const [earlier, later] = forward ? [begin, finish] : [finish, begin];
    const low = Math.max(earlier, this.dataStart);
    const high = Math.min(later, this.dataEnd);
    const members = this.samples.filter(({ time }) =>
      forward ? time >= earlier && time < later : time > earlier && time <= later,
    );
    const partial = truncated || earlier < this.dataStart || later > this.dataEnd;
    const noData: Row = { time: begin, value: NaN, status: 'BND' };
    const words = (
      quality: Quality | 'USub',
      source: 'C' | 'I' | 'R',
      time: number,
      value: number,
      many = false,
      isPartial = partial,
    ): Row => ({
      // D19: what is suppressed carries the interval's start.
      time: quality === 'bad' ? begin : time,
      value: quality === 'bad' ? NaN : value,
      status:
        quality === 'bad'
          ? 'Bad'
          : [
              { good: 'Good', uncertain: 'USub', USub: 'USub' }[quality],
              ...(source === 'R' ? ['R'] : [source]),
              ...(isPartial ? ['P'] : []),
              ...(many ? ['M'] : []),
            ].join(','),
    });
    const calculated = (value: number, quality: Quality | 'USub', many = false): Row =>
      words(quality, 'C', begin, value, many);

    const boundRow = (time: number, bound: Bound): Row => {
      if (bound.quality === 'missing') return { time, value: NaN, status: 'BND' };
      const raw = { good: 'Good,R', uncertain: 'Uncertain,R', bad: 'Bad' }[bound.quality];
      const derived = bound.quality === 'good' ? 'Good,I' : 'USub,I';
      return { time, value: bound.value, status: bound.interpolated ? derived : raw };
    };
    if (name === 'Interpolative') return boundRow(begin, this.interpolatedBound(begin, settings.stepped));
    if (name === 'StartBound') return boundRow(begin, this.simpleBound(begin));
    if (name === 'EndBound') return boundRow(finish, this.simpleBound(finish));
    if (name === 'DeltaBounds') {
      const [from, to] = [this.simpleBound(begin), this.simpleBound(finish)];
      if (!this.boundUsable(from) || !this.boundUsable(to)) return noData;
      return calculated(to.value - from.value, from.quality === 'good' && to.quality === 'good' ? 'good' : 'USub');
    }
    if (name === 'AnnotationCount') return calculated(0, 'good');
    if (members.length === 0 && !(low < high)) return noData;
    if (!(low < high)) return undefined;

    // Seconds: each with the sample that it is held from, and the one that comes next.
    const seconds = Array.from({ length: high - low }, (_, i) => {
      const second = low + i;
      const from = this.samples.filter(({ time }) => time <= second).at(-1)!;
      const [to] = this.after(second);
      const quality: Quality = this.usable(from) ? from.quality : 'bad';
      return { second, from, to, quality };
    });
    const share = (good: number, bad: number, whole: number): Quality | 'USub' => {
      const enough = good * 100 >= settings.percentDataGood * whole;
      const tooBad = bad > 0 && bad * 100 >= settings.percentDataBad * whole;
      if (enough && (!tooBad || settings.percentDataGood === 100 - settings.percentDataBad)) return 'good';
      return tooBad ? 'bad' : 'USub';
    };
    const byTime = (sloped: boolean, since = low): Quality | 'USub' => {
      const counted = seconds.filter(({ second }) => second >= since);
      const endsBad = ({ to }: (typeof seconds)[number]): boolean => to !== undefined && !this.usable(to);
      const good = counted.filter((one) => one.quality === 'good' && !(sloped && endsBad(one)));
      return share(good.length, counted.filter(({ quality }) => quality === 'bad').length, high - since);
    };
    const goods = members.filter(({ quality }) => quality === 'good');
    const byCount = share(goods.length, members.filter((one) => !this.usable(one)).length, members.length);
    const values = goods.map(({ value }) => value);
    const sum = values.reduce((total, value) => total + value, 0);
    const ignored = goods.length < members.length ? 'USub' : 'good';

    const areas = /^(TimeAverage|Total)(2?)$/.exec(name);
    if (areas) {
      const [, kind, two] = areas;
      if (two) {
        const { area, length } = this.usableArea(seconds);
        if (length === 0) return noData;
        return calculated(kind === 'Total' ? area : area / length, byTime(!settings.stepped));
      }
      const whole = this.slopedArea(seconds.map(({ second }) => second));
      if (whole === null) return noData;
      const { area, from } = whole;
      // Without a usable value before it, it starts late.
      const late = partial || from > earlier;
      return words(byTime(true, from), 'C', begin, kind === 'Total' ? area : area / (high - from), false, late);
    }
    const direction = name.startsWith('Minimum') ? 1 : -1;
    const extreme = (of: readonly Sample[], sign: number): Sample | undefined =>
      of.reduce<Sample | undefined>(
        (best, one) => (!best || sign * (one.value - best.value) < 0 ? one : best),
        undefined,
      );
    const many = (of: readonly Sample[], best: Sample): boolean =>
      of.filter(({ value }) => value === best.value).length > 1;
    const outdone = (best: Sample, sign: number): boolean =>
      members.some(({ quality, value }) => quality === 'uncertain' && sign * (value - best.value) < 0);
    // D17: never better than the extremes themselves.
    const boundedBy = (...found: readonly { uncertain: boolean }[]): Quality | 'USub' => {
      const quality = byTime(!settings.stepped);
      return quality === 'good' && found.some(({ uncertain }) => uncertain) ? 'USub' : quality;
    };
    const anyBad = members.some(({ quality }) => quality === 'bad');
    switch (name) {
      case 'Average':
        return goods.length === 0 ? noData : calculated(sum / goods.length, byCount);
      case 'Count':
        return calculated(goods.length, byCount);
      case 'Minimum':
      case 'Maximum':
      case 'MinimumActualTime':
      case 'MaximumActualTime': {
        const best = extreme(goods, direction);
        if (!best) return noData;
        const lowered = anyBad || outdone(best, direction) ? 'USub' : 'good';
        const own = name.endsWith('ActualTime');
        const raw = own ? lowered === 'good' : best.time === begin;
        return words(lowered, raw ? 'R' : 'C', own ? best.time : begin, best.value, many(goods, best));
      }
      case 'Range': {
        const [least, greatest] = [extreme(goods, 1), extreme(goods, -1)];
        if (!least || !greatest) return noData;
        return calculated(greatest.value - least.value, ignored);
      }
      case 'Minimum2':
      case 'Maximum2':
      case 'MinimumActualTime2':
      case 'MaximumActualTime2': {
        const best = this.extreme2(members, earlier, low, high, direction);
        if (!best) return noData;
        if (best.ambiguous) return undefined;
        const own = name.includes('ActualTime');
        const bound = (best.from === 'start' && !best.recorded) || (own && best.from === 'end');
        const raw = (best.from === 'start' && best.recorded) || (best.from === 'raw' && (own || best.time === begin));
        return words(boundedBy(best), bound ? 'I' : raw ? 'R' : 'C', own ? best.time : begin, best.value, best.many);
      }
      case 'Range2': {
        const [least, greatest] = [1, -1].map((sign) => this.extreme2(members, earlier, low, high, sign));
        if (!least || !greatest) return noData;
        if (least.unsure || greatest.unsure) return undefined;
        return calculated(greatest.value - least.value, boundedBy(least, greatest));
      }
      case 'DurationInStateZero':
      case 'DurationInStateNonZero': {
        const zero = name === 'DurationInStateZero';
        const inState = seconds.filter(({ from }) => this.usable(from) && (from.value === 0) === zero);
        return calculated(inState.length * 1000, byTime(false));
      }
      case 'NumberOfTransitions': {
        const used = members.filter(this.usable);
        const [previous] = used.length > 0 ? this.before(used[0]!.time).filter(this.usable) : [];
        const changes = used.filter((one, i) => (i > 0 ? used[i - 1]! : previous)?.value !== one.value);
        return calculated(changes.length, byCount);
      }
      case 'Start':
      case 'End': {
        const one = (name === 'Start') === forward ? members[0] : members.at(-1);
        if (!one) return noData;
        return {
          time: one.time,
          value: one.value,
          status: { good: 'Good,R', uncertain: 'Uncertain,R', bad: 'Bad' }[one.quality],
        };
      }
      case 'Delta':
        if (goods.length === 0) return noData;
        return calculated(
          goods.at(-1)!.value - goods[0]!.value,
          members[0]!.quality !== 'good' || members.at(-1)!.quality !== 'good' ? 'USub' : 'good',
        );
      case 'DurationGood':
      case 'DurationBad':
      case 'PercentGood':
      case 'PercentBad': {
        const quality = name.endsWith('Good') ? 'good' : 'bad';
        const before = quality === 'bad' ? low - earlier : 0;
        const length = seconds.filter((one) => one.quality === quality).length + before;
        return calculated(name.startsWith('Percent') ? (length / (high - earlier)) * 100 : length * 1000, 'good');
      }
      case 'WorstQuality':
      case 'WorstQuality2': {
        const ranks = ['good', 'uncertain', 'bad'];
        const bound = name.endsWith('2') ? this.simpleBound(earlier).quality.replace('missing', 'bad') : null;
        const met = [...members.map(({ quality }) => quality as string), ...(bound ? [bound] : [])];
        if (met.length === 0) return noData;
        return calculated(Math.max(...met.map((quality) => ranks.indexOf(quality))), 'good');
      }
    }
    const spread = /^(StandardDeviation|Variance)(Sample|Population)$/.exec(name)!;
    if (goods.length === 0) return noData;
    const mean = sum / goods.length;
    const squares = values.reduce((total, value) => total + (value - mean) ** 2, 0);
    const divisor = spread[2] === 'Sample' ? Math.max(1, goods.length - 1) : goods.length;
    return calculated(spread[1] === 'Variance' ? squares / divisor : Math.sqrt(squares / divisor), ignored);
  }

  /** Always sloped, from the first second that has a usable value behind it. */
  private slopedArea(seconds: readonly number[]): { area: number; from: number } | null {
    let area = 0;
    let from = NaN;
    const valueAt = (time: number): number => {
      const [before, earlier] = this.samples.filter((one) => one.time <= time && this.usable(one)).reverse();
      const after = this.after(time).find(this.usable);
      if (!before) return NaN;
      if (before.time === time) return before.value;
      if (after) return this.line(time, before, after);
      const trailing = this.samples.at(-1) !== before;
      return this.settings.useSlopedExtrapolation && trailing && earlier
        ? this.line(time, earlier, before)
        : before.value;
    };
    for (const second of seconds) {
      const value = valueAt(second);
      if (Number.isNaN(value)) continue;
      if (Number.isNaN(from)) from = second;
      area += (value + valueAt(second + 1)) / 2;
    }
    return Number.isNaN(from) ? null : { area, from };
  }

  /** Seconds that start usable: held, or sloped to a usable next value. */
  private usableArea(seconds: readonly { second: number; from: Sample; to: Sample | undefined }[]): {
    area: number;
    length: number;
  } {
    const { stepped } = this.settings;
    let area = 0;
    let length = 0;
    for (const { second, from, to } of seconds) {
      if (!this.usable(from)) continue;
      const thenBad = to !== undefined && !this.usable(to);
      length++;
      area += stepped || !to || thenBad ? from.value : this.line(second + 0.5, from, to);
    }
    return { area, length };
  }

  /** Usable members, the bound at the start and, sloped, the one at the end. */
  private extreme2(
    members: readonly Sample[],
    earlier: number,
    low: number,
    high: number,
    sign: number,
  ): Extreme2 | null {
    const used = members.filter(this.usable);
    const candidates: Candidate[] = [];
    const start = this.simpleBound(low);
    const ofBound = ({ value, quality, interpolated }: Bound, time: number, from: Candidate['from']): Candidate => ({
      value,
      time,
      from,
      uncertain: quality === 'uncertain',
      recorded: !interpolated,
    });
    if (low === earlier && members[0]?.time !== low && this.boundUsable(start)) {
      candidates.push(ofBound(start, low, 'start'));
    }
    candidates.push(
      ...used.map(({ value, time, quality }) => ({
        value,
        time,
        from: 'raw' as const,
        uncertain: quality === 'uncertain',
        recorded: true,
      })),
    );
    const end = this.simpleBound(high);
    if (!this.settings.stepped && members.at(-1)?.time !== high && this.boundUsable(end)) {
      candidates.push(ofBound(end, high, 'end'));
    }
    if (candidates.length === 0) return null;
    const value = Math[sign > 0 ? 'min' : 'max'](...candidates.map((one) => one.value));
    // Bounds that are equal on paper may differ in the last digit: which one wins then is chance.
    const winners = candidates.filter((one) => Math.abs(one.value - value) < 1e-9);
    const [best] = winners;
    const many = best!.from === 'raw' && used.filter((one) => one.value === value).length > 1;
    // Of equal raw values one that is Good makes the extreme a Good one.
    const uncertain =
      best!.from === 'raw' ? winners.every((one) => one.from !== 'raw' || one.uncertain) : best!.uncertain;
    const ambiguous = new Set(winners.map(({ from }) => from)).size > 1;
    return {
      ...best!,
      uncertain,
      many,
      ambiguous,
      unsure: ambiguous && new Set(winners.map((one) => one.uncertain)).size > 1,
    };
  }
}

interface Candidate {
  readonly value: number;
  readonly time: number;
  readonly from: 'start' | 'raw' | 'end';
  readonly uncertain: boolean;
  readonly recorded: boolean;
}

interface Extreme2 extends Candidate {
  readonly many: boolean;
  readonly ambiguous: boolean;
  /** Whether chance decides if it counts as Uncertain. */
  readonly unsure: boolean;
}
