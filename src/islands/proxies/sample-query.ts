import type { Picture } from '../../core/rendition/picture-size';
import type { PresetId } from '../../core/rendition/presets';

/** How a sample is asked for. */
export function sampleQuery(presetId: PresetId, { width, height }: Picture, quality: number): string {
  return `preset=${presetId}&width=${width}&height=${height}&quality=${quality}`;
}
