/** Names with tokens: "{day}_{reel|no reel}_{n:3}". A token may carry what stands for it where its value is not known. */
import { trimEndOf } from '../naming/trim-end';

export const TOKENS = ['project', 'day', 'date', 'camera', 'reel', 'scene', 'take', 'kind', 'codec', 'clip', 'original', 'bin', 'n'] as const;
export type Token = (typeof TOKENS)[number];

/** What each stands for, as the screen tells it. */
export const TOKEN_WORDS: Readonly<Record<Token, string>> = {
  project: 'name of the project',
  day: 'day of the shoot, as 2026-05-04',
  date: 'the day of the sort',
  camera: 'camera, or the letters its reel begins with',
  reel: 'reel',
  scene: 'scene, as the recorder wrote it',
  take: 'take, as the recorder wrote it',
  kind: 'video, audio, still, sequence, other',
  codec: 'codec',
  clip: 'name of the clip in the project',
  original: 'name the file came with',
  bin: 'bin of the clip',
  n: 'a number; {n:4} writes four digits',
};

export type PatternPart =
  | { readonly text: string }
  | { readonly token: Exclude<Token, 'n'>; readonly fallback: string | null }
  | { readonly token: 'n'; readonly digits: number };

export interface Pattern {
  readonly parts: readonly PatternPart[];
}

/** What a value is called where it is not known and the pattern does not say. */
const UNKNOWN: Readonly<Partial<Record<Token, string>>> = { day: 'no day', camera: 'no camera', reel: 'no reel', scene: 'no scene', take: 'no take', bin: 'no bin', clip: 'no clip', codec: 'no codec' }; // prettier-ignore
const MOST_DIGITS = 9;

/** The parts of a pattern, or what is wrong with it, in a sentence. */
export function readPattern(text: string): Pattern | { readonly problem: string } {
  const parts: PatternPart[] = [];
  let at = 0;
  while (at < text.length) {
    const open = text.indexOf('{', at);
    const plain = text.slice(at, open < 0 ? text.length : open);
    if (plain.includes('}')) return { problem: 'A brace is closed that was not opened.' };
    if (plain !== '') parts.push({ text: plain });
    if (open < 0) break;
    const close = text.indexOf('}', open);
    if (close < 0) return { problem: 'A brace is not closed.' };
    const part = readToken(text.slice(open + 1, close));
    if ('problem' in part) return part;
    parts.push(part);
    at = close + 1;
  }
  return { parts };
}

function readToken(inside: string): PatternPart | { readonly problem: string } {
  if (inside.includes('{')) return { problem: 'A brace is not closed.' };
  const bar = inside.indexOf('|');
  const [name, rest] = bar < 0 ? [inside, null] : [inside.slice(0, bar), inside.slice(bar + 1)];
  const number = /^n(?::(\d{1,2}))?$/.exec(name);
  if (number) {
    const digits = Number(number[1] ?? 1);
    if (rest !== null) return { problem: 'A number is always known: {n} takes nothing that stands for it.' };
    return digits < 1 || digits > MOST_DIGITS ? { problem: `{n} takes 1 to ${MOST_DIGITS} digits.` } : { token: 'n', digits };
  }
  const token = TOKENS.find((entry) => entry === name);
  if (!token || token === 'n') return { problem: `There is no token {${name}}. There are ${TOKENS.map((entry) => `{${entry}}`).join(' ')}.` };
  return { token, fallback: rest };
}

export type TokenValues = Readonly<Partial<Record<Exclude<Token, 'n'>, string | null>>>;

/** The name a pattern makes of values. `number` stands for {n}. A slash in a value parts no folders. */
export function renderPattern({ parts }: Pattern, values: TokenValues, number: number): string {
  let isEmpty = false;
  const name = parts
    .map((part) => {
      if ('text' in part) return part.text;
      if (part.token === 'n') return String(number).padStart(part.digits, '0');
      const value = values[part.token]?.trim();
      const text = value ? value.replaceAll('/', '-') : (part.fallback ?? UNKNOWN[part.token] ?? part.token);
      isEmpty ||= text === '';
      return text;
    })
    .join('');
  // What parted it from a value that is not there parts nothing.
  return isEmpty ? trimEndOf(name.replace(/([_\- .])[_\- .]+/g, '$1').replace(/^[_\- .]/, ''), /[_\- .]/) : name;
}

export function usesNumber({ parts }: Pattern): boolean {
  return parts.some((part) => 'token' in part && part.token === 'n');
}
