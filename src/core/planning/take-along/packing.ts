/**
 * Which rendition of each clip goes along where not all of it fits. First every clip can be read: by its lightest
 * rendition; then, as far as the room goes, better ones take their places, those first that give the most seconds of the
 * timelines for their bytes. Which is better is the order of the options.
 *
 * A greedy walk over the convex hull of each clip's options, as is known of the multiple-choice knapsack (Sinha and
 * Zoltners, "The Multiple-Choice Knapsack Problem", Operations Research 27, 1979; from memory): it gives away at most what
 * the first step that does not fit would have brought. What fits after that is filled in, most used first.
 */

export interface PackOption {
  /** Bytes that come onto the drive; 0 for what stands there already. */
  readonly bytes: number;
}

export interface PackUnit<Option extends PackOption> {
  /** Seconds of the timelines that read it; 0 for what none reads. */
  readonly seconds: number;
  /** From the best to the least; none where nothing of it can be taken. */
  readonly options: readonly Option[];
}

/** A step from one option to a better one: by their indexes. */
interface Step {
  readonly unit: number;
  readonly to: number;
  readonly bytes: number;
  readonly worth: number;
}

/** What is taken of each unit, by index of its option; null where there is no room, or no option. Never more bytes than `room`. */
export function pack<Option extends PackOption>(units: readonly PackUnit<Option>[], room: number): (number | null)[] {
  const taken = units.map((): number | null => null);
  const lightest = units.map(({ options }) => lightestOf(options));
  let left = room;
  // The most used first, of equally used ones the lightest: what is read nowhere comes last.
  const bytesOf = (unit: number) => units[unit]!.options[lightest[unit]!]!.bytes;
  const perByte = (unit: number) => units[unit]!.seconds / Math.max(1, bytesOf(unit));
  const readable = units.flatMap((_, unit) => (lightest[unit] === null ? [] : [unit]));
  for (const unit of readable.sort((a, b) => perByte(b) - perByte(a) || bytesOf(a) - bytesOf(b))) {
    if (bytesOf(unit) > left) continue;
    taken[unit] = lightest[unit]!;
    left -= bytesOf(unit);
  }
  const steps = units.flatMap((unit, index) => stepsOf(unit, index, taken[index] ?? 0));
  const stopped = new Set<number>();
  for (const { unit, to, bytes } of steps.sort((a, b) => b.worth / Math.max(1, b.bytes) - a.worth / Math.max(1, a.bytes) || a.bytes - b.bytes)) {
    if (stopped.has(unit)) continue;
    if (bytes > left) {
      stopped.add(unit);
      continue;
    }
    taken[unit] = to;
    left -= bytes;
  }
  for (const unit of readable.sort((a, b) => units[b]!.seconds - units[a]!.seconds)) {
    const now = taken[unit];
    if (now === null || now === undefined) continue;
    const { options } = units[unit]!;
    const better = options.findIndex(({ bytes }, index) => index < now && bytes - options[now]!.bytes <= left);
    if (better < 0) continue;
    left -= options[better]!.bytes - options[now]!.bytes;
    taken[unit] = better;
  }
  return taken;
}

/** Of equally light ones the best. */
function lightestOf(options: readonly PackOption[]): number | null {
  let least: number | null = null;
  for (const [index, { bytes }] of options.entries()) if (least === null || bytes < options[least]!.bytes) least = index;
  return least;
}

/** Steps from the lightest option up, each giving less for its bytes than the one before it. */
function stepsOf({ options, seconds }: PackUnit<PackOption>, unit: number, from: number): Step[] {
  // Read nowhere, it still is better in better pictures, as long as nothing else wants the room.
  const perStep = Math.max(seconds, 1e-6);
  const steps: Step[] = [];
  for (let now = from; now > 0;) {
    let best: Step | null = null;
    for (let to = 0; to < now; to++) {
      const step = { unit, to, bytes: options[to]!.bytes - options[now]!.bytes, worth: perStep * (now - to) };
      if (best === null || step.worth * Math.max(1, best.bytes) > best.worth * Math.max(1, step.bytes)) best = step;
    }
    steps.push(best!);
    now = best!.to;
  }
  return steps;
}
