/** Long texts that runs write, apart from their journal: each once, packed. */
import { createHash } from 'node:crypto';
import { gunzipSync, gzipSync } from 'node:zlib';
import type { KeptText, PlanText } from '../../core/planning/plan/plan-text';
import type { Step } from '../../core/planning/plan/step';
import { longTexts, withTextsApart } from '../../core/planning/plan/texts-apart';
import type { Db } from './db';
import { StepFailure } from '../errors/explain-error';

/** A text as it is, or packed by gzip (RFC 1952), so that only who writes or reads it unpacks it. */
export type PackedText = { readonly text: string } | { readonly packed: Uint8Array };

/** By which SHA-256 a text is kept. */
export function nameText(text: string): KeptText {
  return { kept: createHash('sha256').update(text).digest('hex') };
}

/** Like `nameText`, hashing each distinct text of a plan once. `onNew` is called once for each. */
export function textNamer(onNew: (kept: KeptText, text: string) => void = () => undefined): (text: string) => KeptText {
  const known = new Map<string, KeptText>();
  return (text) => {
    const old = known.get(text);
    if (old) return old;
    const name = nameText(text);
    known.set(text, name);
    onNew(name, text);
    return name;
  };
}

/** Texts that are packed while a plan is made, for the run that is to be entered with it. */
export class PackedTexts {
  readonly bySha = new Map<string, Uint8Array>();
  readonly keep = longTexts((text) => {
    const name = nameText(text);
    this.bySha.set(name.kept, pack(text));
    return name;
  });
}

/** They are long and full of repetitions: more work would not make them much shorter. */
function pack(text: string): Uint8Array {
  return gzipSync(text, { level: 1 });
}

export function unpacked(text: PackedText): string {
  return 'text' in text ? text.text : gunzipSync(text.packed).toString('utf8');
}

export class RunTexts {
  constructor(private readonly db: Db) {}

  /** Puts the long texts of the steps of a run apart, one step after the other; `packed`: those that were put apart before. */
  keeper(runId: number, packed: ReadonlyMap<string, Uint8Array>): (step: Step) => Step {
    const insert = this.db.prepare('INSERT INTO run_texts (run_id, sha256, packed) VALUES (?, ?, ?) ON CONFLICT DO NOTHING');
    for (const [sha256, text] of packed) insert.run(runId, sha256, text);
    const keep = textNamer(({ kept }, text) => insert.run(runId, kept, pack(text)));
    return (step) => withTextsApart(step, keep);
  }

  /** Throws where a text that is kept apart is not there. */
  packed(runId: number, text: PlanText): PackedText {
    if (typeof text === 'string') return { text };
    const packed = this.db.prepare('SELECT packed FROM run_texts WHERE run_id = ? AND sha256 = ?').pluck().get(runId, text.kept) as
      Buffer | undefined;
    if (packed === undefined) throw new StepFailure(`The text ${text.kept} of run ${runId} is not in the journal.`);
    return { packed };
  }

  /** Like `packed`, but unpacked: for worker threads. */
  text(runId: number, text: PlanText): string {
    return unpacked(this.packed(runId, text));
  }
}
