/** What tests of renditions do again and again: settings, clips of all that stands there, and ffprobe as the judge. */
import { execFileSync } from 'node:child_process';
import { randomUUID } from 'node:crypto';
import { PROXIES_AT_FIRST, type ProxySettings } from '../../src/core/planning/proxies/settings';
import { clipsOfItems } from '../../src/server/projects/make-clip';
import type { SmallHouse } from './small-house';

/** Courier at half size, all in one folder on the vault, which is no home. */
export function proxySettings(house: SmallHouse, own: Partial<ProxySettings> = {}): ProxySettings {
  return { ...PROXIES_AT_FIRST, destination: { shelfId: house.vault.id, path: '' }, layout: 'flat', asHome: false, ...own };
}

export function proxyPlan(house: SmallHouse, own: Partial<ProxySettings> = {}) {
  return house.plan({ kind: 'proxies', settings: proxySettings(house, own) });
}

/** Every file on FOUNDRY-A becomes a clip. */
export async function clipsOfAll(house: SmallHouse): Promise<void> {
  await house.stocktake(house.source.id);
  const { catalogue } = house.house;
  const items = catalogue.sort.itemsBelow({ shelfId: house.source.id, path: '' }).filter(({ facts }) => facts.kind !== 'other');
  for (const clip of clipsOfItems(house.projectId, items.map((item) => ({ item, bin: '' })), catalogue, randomUUID)) catalogue.clips.put(house.projectId, clip); // prettier-ignore
}

interface Judged {
  readonly codec_name: string;
  readonly width: number;
  readonly height: number;
  readonly pix_fmt: string;
  readonly avg_frame_rate: string;
  readonly nb_read_frames: string;
  readonly tags?: Record<string, string>;
  readonly channels?: number;
  readonly codec_type: string;
}

/** As ffprobe sees it, every frame decoded. */
export function judge(path: string): { video: Judged; audio: Judged[]; timecode: string | undefined; reel: string | undefined } {
  const { streams } = JSON.parse(
    execFileSync('ffprobe', ['-v', 'error', '-count_frames', '-show_streams', '-of', 'json', path], { encoding: 'utf8' }),
  ) as { streams: Judged[] };
  const video = streams.find(({ codec_type }) => codec_type === 'video')!;
  return { video, audio: streams.filter(({ codec_type }) => codec_type === 'audio'), timecode: streams.map(({ tags }) => tags?.timecode).find(Boolean), reel: streams.map(({ tags }) => tags?.reel_name).find(Boolean) }; // prettier-ignore
}
