/** How fast this machine encodes, as it was learned from what it encoded. */
import type { Paces, SampleRate } from '../../core/planning/proxies/pace';
import { PRESET_IDS, type PresetId } from '../../core/rendition/presets';
import type { Db } from './db';

/** What was learned before counts so much less each time. */
const FADES = 0.8;
const MOST_SAMPLES = 2_000;

export class LearnedPaces {
  constructor(private readonly db: Db) {}

  /** `pixels`: read and written; `seconds`: of the whole machine's time, with what went on beside it taken off. */
  learn(presetId: PresetId, pixels: number, seconds: number): void {
    if (!(pixels > 0) || !(seconds > 0)) return;
    this.db
      .prepare(
        `INSERT INTO paces (preset, pixels, seconds) VALUES (@presetId, @pixels, @seconds)
         ON CONFLICT DO UPDATE SET pixels = pixels * @fades + excluded.pixels, seconds = seconds * @fades + excluded.seconds`,
      )
      .run({ presetId, pixels, seconds, fades: FADES });
  }

  all(): Paces {
    const rows = this.db.prepare('SELECT preset, seconds / pixels AS pace FROM paces').all() as { preset: string; pace: number }[];
    const known = rows.filter((row): row is { preset: PresetId; pace: number } => (PRESET_IDS as readonly string[]).includes(row.preset));
    return new Map(known.map(({ preset, pace }) => [preset, pace]));
  }

  /** Keeps what a sample took, where none was known of its source, preset, size and quality; whether it is new. */
  keepSample({ fingerprint, presetId, width, height, quality, bytesPerPixel, secondsPerPixel }: SampleRate): boolean {
    const { changes } = this.db
      .prepare(
        'INSERT INTO samples VALUES (@fingerprint, @presetId, @width, @height, @quality, @bytesPerPixel, @secondsPerPixel) ON CONFLICT DO NOTHING',
      )
      .run({ fingerprint, presetId, width, height, quality, bytesPerPixel, secondsPerPixel });
    this.db.prepare('DELETE FROM samples WHERE rowid <= (SELECT max(rowid) - ? FROM samples)').run(MOST_SAMPLES);
    return changes > 0;
  }

  samples(): SampleRate[] {
    return this.db
      .prepare(
        'SELECT fingerprint, preset AS presetId, width, height, quality, bytes_per_pixel AS bytesPerPixel, seconds_per_pixel AS secondsPerPixel FROM samples',
      )
      .all() as SampleRate[];
  }
}
