/** How fast this machine encodes, as it was learned from what it encoded. */
import type { Paces } from '../../core/planning/proxies/pace';
import { PRESET_IDS, type PresetId } from '../../core/rendition/presets';
import type { Db } from './db';

/** What was learned before counts so much less each time. */
const FADES = 0.8;

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
}
