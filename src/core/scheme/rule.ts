/** The rule of a standard folder: which media goes there. */
import { isInside } from '../project/bins';
import { codecName } from '../media/codec-traits';
import { isAscii } from '../naming/utf8-length';
import type { ItemKind } from '../media/item';

/** What all that is named asks for must hold; of several values of one, any. Nothing named takes everything. */
export interface Rule {
  readonly kinds?: readonly ItemKind[];
  /** Codecs by their libavcodec names, or "pcm" for all of linear sound. */
  readonly codecs?: readonly string[];
  readonly cameras?: readonly string[];
  /** Where * stands for any letters and ? for one, as in names and days. */
  readonly reels?: readonly string[];
  /** Days of the shoot, as 2026-05-04. */
  readonly days?: readonly string[];
  /** A bin and all below it. */
  readonly bins?: readonly string[];
  readonly colours?: readonly string[];
  readonly used?: boolean;
  readonly names?: readonly string[];
  readonly shelves?: readonly string[];
}

/** What rules and names go by of a file. Null where it is not known. */
export interface SortFacts {
  readonly kind: ItemKind;
  readonly codec: string | null;
  readonly camera: string | null;
  readonly reel: string | null;
  readonly scene: string | null;
  readonly take: string | null;
  /** As 2026-05-04. */
  readonly day: string | null;
  /** Of the clips that link it, in their order. */
  readonly clips: readonly { readonly name: string; readonly bin: string; readonly colour: string }[];
  readonly used: boolean;
  /** File name with its extension. */
  readonly name: string;
  /** The name it came with, where a sort has given it another. */
  readonly original: string;
  readonly shelfId: string;
}

export function fitsRule(rule: Rule, facts: SortFacts): boolean {
  return (
    (!rule.kinds || rule.kinds.includes(facts.kind)) &&
    (!rule.codecs || (facts.codec !== null && rule.codecs.some((codec) => fitsCodec(codec, facts.codec!)))) &&
    (!rule.cameras || anyFits(rule.cameras, facts.camera)) &&
    (!rule.reels || anyFits(rule.reels, facts.reel)) &&
    (!rule.days || anyFits(rule.days, facts.day)) &&
    (!rule.bins || facts.clips.some(({ bin }) => rule.bins!.some((wanted) => isInside(bin, wanted)))) &&
    (!rule.colours || facts.clips.some(({ colour }) => rule.colours!.includes(colour))) &&
    (rule.used === undefined || rule.used === facts.used) &&
    // By the name it came with: what a sort names it must not lead it elsewhere at the next.
    (!rule.names || anyFits(rule.names, facts.original)) &&
    (!rule.shelves || rule.shelves.includes(facts.shelfId))
  );
}

function fitsCodec(wanted: string, codec: string): boolean {
  return wanted === codec || (wanted === 'pcm' && codec.startsWith('pcm_'));
}

function anyFits(patterns: readonly string[], text: string | null): boolean {
  return text !== null && patterns.some((pattern) => fitsWildcard(pattern, text));
}

/** Whether a text is what a pattern with * and ? says, without regard to case. In time with the product of their lengths. */
export function fitsWildcard(pattern: string, text: string): boolean {
  const [want, have] = [signsOf(pattern), signsOf(text)];
  let [at, star, since] = [0, -1, 0];
  let index = 0;
  while (index < have.length) {
    if (want[at] === '*') {
      star = at++;
      since = index;
    } else if (at < want.length && (want[at] === '?' || want[at] === have[index])) {
      at++;
      index++;
    } else if (star >= 0) {
      at = star + 1;
      index = ++since;
    } else return false;
  }
  while (want[at] === '*') at++;
  return at === want.length;
}

/** Letters one by one, case folded; of plain text the text itself. */
function signsOf(text: string): ArrayLike<string> {
  return isAscii(text) ? text.toLowerCase() : [...text.normalize('NFC').toLowerCase()];
}

/** The rule in plain words; null takes nothing by itself. */
export function ruleWords(rule: Rule | null, shelfName: (id: string) => string): string {
  if (rule === null) return 'only what its folders take';
  const or = (words: readonly string[]) => words.join(' or ');
  const words = [
    rule.kinds && or(rule.kinds),
    rule.codecs && or(rule.codecs.map(codecName)),
    rule.cameras && withOne('camera', rule.cameras),
    rule.reels && withOne('reel', rule.reels),
    rule.days && `shot on ${or(rule.days)}`,
    rule.bins && `in bin ${or(rule.bins)}`,
    rule.colours && `marked ${or(rule.colours)}`,
    rule.used !== undefined && (rule.used ? 'used by a timeline' : 'used by no timeline'),
    rule.names && `named ${or(rule.names)}`,
    rule.shelves && `from ${or(rule.shelves.map(shelfName))}`,
  ].filter((entry): entry is string => typeof entry === 'string');
  return words.length === 0 ? 'everything that is left' : words.join(', ');
}

/** "?*" asks only that there is one. */
function withOne(what: string, values: readonly string[]): string {
  return values.includes('?*') || values.includes('*') ? `with a ${what}` : `${what} ${values.join(' or ')}`;
}

/** Why no file can ever fit both, in words; null where one may. */
export function contradiction(outer: Rule, inner: Rule): string | null {
  const apart = (a: readonly string[] | undefined, b: readonly string[] | undefined) => a && b && !a.some((entry) => b.includes(entry));
  if (apart(outer.kinds, inner.kinds)) return `${outer.kinds!.join(' or ')} is never ${inner.kinds!.join(' or ')}`;
  if (apart(outer.shelves, inner.shelves)) return 'they ask for different shelves';
  if (outer.used !== undefined && inner.used !== undefined && outer.used !== inner.used)
    return 'one asks for what is used, the other for what is not';
  return null;
}
