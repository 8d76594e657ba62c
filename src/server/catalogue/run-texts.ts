/** Long texts that runs write, apart from their journal: each once, packed. */
import { createHash } from 'node:crypto';
import { gunzipSync, gzipSync } from 'node:zlib';
import type { KeptText, PlanText } from '../../core/planning/plan/plan-text';
import type { Step } from '../../core/planning/plan/step';
import { withTextsApart } from '../../core/planning/plan/texts-apart';
import type { Db } from './db';

/** A text as it is, or packed by gzip (RFC 1952), so that only who writes or reads it unpacks it. */
export type PackedText = { readonly text: string } | { readonly packed: Uint8Array };

/** Says by which SHA-256 a text is kept; of the same text it is reckoned once. */
export function textNamer(onNew: (sha256: string, text: string) => void = () => undefined): (text: string) => KeptText {
  const known = new Map<string, KeptText>();
  return (text) => {
    const old = known.get(text);
    if (old) return old;
    const kept = createHash('sha256').update(text).digest('hex');
    known.set(text, { kept });
    onNew(kept, text);
    return { kept };
  };
}

export function unpacked(text: PackedText): string {
  return 'text' in text ? text.text : gunzipSync(text.packed).toString('utf8');
}

export class RunTexts {
  constructor(private readonly db: Db) {}

  /** Puts the long texts of the steps of a run apart, one step after the other. */
  keeper(runId: number): (step: Step) => Step {
    const insert = this.db.prepare('INSERT INTO run_texts (run_id, sha256, packed) VALUES (?, ?, ?) ON CONFLICT DO NOTHING');
    // They are long and full of repetitions: more work would not make them much shorter.
    const keep = textNamer((sha256, text) => insert.run(runId, sha256, gzipSync(text, { level: 1 })));
    return (step) => withTextsApart(step, keep);
  }

  /** Throws where a text that is kept apart is not there. */
  packed(runId: number, text: PlanText): PackedText {
    if (typeof text === 'string') return { text };
    const packed = this.db.prepare('SELECT packed FROM run_texts WHERE run_id = ? AND sha256 = ?').pluck().get(runId, text.kept) as
      Buffer | undefined;
    if (packed === undefined) throw new Error(`The text ${text.kept} of run ${runId} is not in the journal.`);
    return { packed };
  }

  /** As packed, unpacked: for worker threads. */
  text(runId: number, text: PlanText): string {
    return unpacked(this.packed(runId, text));
  }
}
