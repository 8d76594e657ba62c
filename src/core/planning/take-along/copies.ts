/** The copies of what is taken along: each file once for a destination, under names of its own, and the links that point at them then. */
import { sequenceName } from '../../media/image-sequence';
import { below, fileName, folderOf, placeKey, type Item, type Place } from '../../media/item';
import { NameRegister, portableName, portablePrefix } from '../../naming/safe-name';
import { trimEndOf } from '../../naming/trim-end';
import type { Clip } from '../../project/clip';
import type { RenditionKind } from '../../rendition/read-order';
import { framesOf } from '../package/package-layout';
import { shelfNameIn, type Snapshot } from '../plan/snapshot';
import { precondition, type Step } from '../plan/step';
import type { TakeAlongSettings } from './settings';

export interface TakenLink {
  readonly renditionId: string;
  readonly position: number;
  readonly from: Place;
  readonly to: Place;
}

/** The copies of a plan: each file once for a destination, however many clips read it. */
export class Copies {
  readonly steps: Step[] = [];
  readonly links: TakenLink[] = [];
  private readonly names = new Map<string, NameRegister>();
  private readonly places = new Map<string, Place>();
  private readonly roots = new Map<string, Place>();

  constructor(
    private readonly snapshot: Snapshot,
    private readonly settings: TakeAlongSettings,
    private readonly standing: Readonly<Partial<Record<RenditionKind, readonly string[]>>>,
  ) {}

  get bases(): Place[] {
    return [...this.roots.values()];
  }

  take(kind: RenditionKind, clip: Clip, renditionId: string, position: number, item: Item): void {
    const { destination, folderName } = this.settings.rows[kind];
    const root = below(destination ?? { shelfId: '', path: '' }, folderName);
    this.roots.set(placeKey(root), root);
    // Once on a shelf is enough, whichever folder it came to first.
    const key = `${root.shelfId} ${placeKey(item.place)}`;
    const to = this.places.get(key) ?? this.copy(kind, clip, item, root);
    this.places.set(key, to);
    this.links.push({ renditionId, position, from: item.place, to });
  }

  /** Where the item stands then. */
  private copy(kind: RenditionKind, clip: Clip, item: Item, root: Place): Place {
    const names = this.names.get(placeKey(root)) ?? new NameRegister(this.standing[kind] ?? []);
    this.names.set(placeKey(root), names);
    const folder = this.folderFor(item, clip);
    const { sequence } = item.facts;
    const common = {
      phase: 0,
      from: item.place,
      expectedBytes: item.sizeBytes,
      bytesExact: true,
      reason: `${kind} of ${clip.name}`,
      mustHold: precondition(item),
    };
    if (!sequence) {
      const to = below(root, names.claim(folder, portableName(fileName(item.place.path))));
      this.steps.push({ ...common, action: 'copy', to });
      return to;
    }
    const label = fileName(folderOf(item.place.path)) || trimEndOf(sequence.prefix, /[._\- ]/) || 'frames';
    const to = below(root, names.claim(folder, portableName(label)));
    const { names: own, holds } = framesOf(sequence, this.snapshot.frames?.get(item.id) ?? null);
    const prefix = portablePrefix(sequence.prefix);
    const asNames = prefix === sequence.prefix ? {} : { asNames: own.map((name) => prefix + name.slice(sequence.prefix.length)) };
    this.steps.push({
      ...common,
      from: { ...item.place, path: folderOf(item.place.path) },
      action: 'frames',
      to,
      names: own,
      ...asNames,
      holds,
      sequence,
    });
    return below(to, sequenceName({ ...sequence, prefix }));
  }

  private folderFor({ place, facts }: Item, clip: Clip): string {
    const { layout } = this.settings;
    if (layout === 'reel') return portableName(facts.reel ?? 'no reel');
    if (layout === 'clip') return portableName(clip.name || 'unnamed');
    const folder = facts.sequence ? folderOf(folderOf(place.path)) : folderOf(place.path);
    return [shelfNameIn(this.snapshot, place.shelfId), ...folder.split('/')].filter((name) => name !== '').map(portableName).join('/'); // prettier-ignore
  }
}
