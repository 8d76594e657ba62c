/** Frames that were decoded without a fault, by the content of their file. */
import type { FrameRange } from '../../core/time/range';
import { unite } from '../../core/time/range';
import type { Db } from './db';

export class DecodedFrames {
  constructor(private readonly db: Db) {}

  /** `content`: as items have it, the same text for the same bytes. */
  add(content: string, ranges: readonly FrameRange[], at: string): void {
    const put = this.db.prepare('INSERT INTO decoded (content, start_frame, end_frame, decoded_at) VALUES (?, ?, ?, ?) ON CONFLICT DO UPDATE SET decoded_at = excluded.decoded_at'); // prettier-ignore
    for (const { start, end } of ranges) put.run(content, start, end, at);
  }

  /** By content: what of it was decoded. */
  of(contents: readonly string[]): Map<string, readonly FrameRange[]> {
    const rows = this.db
      .prepare('SELECT d.content, d.start_frame AS start, d.end_frame AS end FROM json_each(?) w JOIN decoded d ON d.content = w.value')
      .all(JSON.stringify([...new Set(contents)])) as { content: string; start: number; end: number }[];
    const out = new Map<string, FrameRange[]>();
    for (const { content, start, end } of rows) out.set(content, [...(out.get(content) ?? []), { start, end }]);
    return new Map([...out].map(([content, ranges]) => [content, unite(ranges)]));
  }
}
