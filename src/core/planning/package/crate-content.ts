/** A crate as it stands on the disk: what it lists, what is there, and what vouches for its lists. Opening and checking share it. */
import type { ArchiveEntry } from '../../archive/archive-format';
import { CRATE_FORMAT } from '../../archive/archive-formats';
import { below, type Place } from '../../media/item';
import type { Rate } from '../../time/rate';
import { fewNames, oneOrMany } from '../../words/figures';
import { notes, stops, warns, type Finding } from '../../words/finding';
import type { Step } from '../plan/step';
import type { AdoptedTimeline } from './adopt';

/** A crate as it stands on the disk, read by the server. Paths are relative to its root. */
export interface CrateContent {
  readonly root: Place;
  readonly name: string;
  readonly projectName: string;
  readonly rate: Rate;
  readonly dropFrame: boolean;
  readonly entries: readonly ArchiveEntry[];
  /** Sizes of the files that are there. */
  readonly sizes: ReadonlyMap<string, number>;
  readonly timelines: readonly CrateTimeline[];
  readonly badLines: readonly number[];
  /** Payload-Oxum of bag-info.txt as bytes and files; null when not stated. */
  readonly oxum: { readonly bytes: number; readonly files: number } | null;
  /** What its list of lists says (tagmanifest-sha256.txt); null where it has none. */
  readonly tags: readonly ArchiveEntry[] | null;
  /** Checksums of the files that tell of it, as they stand. */
  readonly tagSums: ReadonlyMap<string, string>;
}

export interface CrateTimeline extends AdoptedTimeline {
  /** Below the crate's root. */
  readonly path: string;
  /** Checksum of the bytes that were read. */
  readonly sha256: string;
}

/** Files that a crate lists, as the screen shows them; null bytes of those that are not there. */
export interface CrateFiles {
  readonly files: readonly { readonly path: string; readonly bytes: number | null }[];
}

/** What it carries and is there. */
export function payloadThere({ entries, sizes }: CrateContent): { readonly files: number; readonly bytes: number } {
  const found = entries.flatMap(({ path }) => sizes.get(path) ?? []);
  return { files: found.length, bytes: found.reduce((sum, bytes) => sum + bytes, 0) };
}

/** Every file that is listed and there is read and compared, also those that tell of the crate. */
export function checkSteps(crate: CrateContent): Step[] {
  // Lists that are not what they were are told of: they fail no step.
  const tags = (crate.tags ?? []).filter(({ path, checksum }) => crate.tagSums.get(path) === checksum);
  return [...crate.entries, ...tags].flatMap(({ path, checksum }): Step[] => {
    const bytes = crate.sizes.get(path);
    if (bytes === undefined) return [];
    return [
      {
        action: 'check',
        phase: 0,
        from: below(crate.root, path),
        to: null,
        expectedBytes: bytes,
        bytesExact: true,
        reason: 'compare with the manifest',
        mustHold: null,
        sha256: checksum,
      },
    ];
  });
}

/** Without these it is not known what belongs to the crate. */
const VITAL: ReadonlySet<string> = new Set([CRATE_FORMAT.manifest, CRATE_FORMAT.mark]);

/** What its list of lists says of the files that tell of the crate: without it lines could be taken out of the manifest unseen. */
export function tagFindings({ tags, tagSums }: CrateContent): Finding[] {
  if (tags === null)
    return [notes('crate-no-taglist', 'The crate has no tagmanifest-sha256.txt, so nobody vouches for its manifest.', 'Its files are compared with the manifest as it is.')]; // prettier-ignore
  const listed = new Set(tags.map(({ path }) => path));
  const altered = tags.filter(({ path, checksum }) => tagSums.has(path) && tagSums.get(path) !== checksum).map(({ path }) => path);
  const missing = tags.filter(({ path }) => !tagSums.has(path)).map(({ path }) => path);
  const unlisted = [...tagSums.keys()].filter((path) => !listed.has(path));
  const vital = [...altered, ...missing].filter((path) => VITAL.has(path));
  const other = [...altered, ...missing].filter((path) => !vital.includes(path));
  const are = (paths: readonly string[]) => oneOrMany(paths.length, 'is', 'are');
  return [
    ...(vital.length > 0
      ? [
          stops(
            'crate-list-altered',
            `${fewNames(vital)} ${are(vital)} not what tagmanifest-sha256.txt says: altered, damaged or missing. Files may have been taken out unseen.`,
            'Copy the crate again from where it came.',
          ),
        ]
      : []),
    ...(other.length > 0
      ? [
          warns(
            'crate-tag-altered',
            `${fewNames(other)} ${are(other)} not what tagmanifest-sha256.txt says: altered, damaged or missing.`,
            'The media is compared all the same. Ask who sent it.',
          ),
        ]
      : []),
    ...(unlisted.length > 0
      ? [
          notes(
            'crate-tag-unlisted',
            `${fewNames(unlisted)} ${are(unlisted)} in the crate but not listed.`,
            'They were added later and are not checked.',
          ),
        ]
      : []),
  ];
}
