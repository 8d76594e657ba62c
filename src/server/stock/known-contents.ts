/** What was read of a content that stands elsewhere on its shelf by now: a folder that was renamed, a card that was copied beside itself. */
import { canProve } from '../../core/media/fingerprint';
import { looksSame, type FileIdentity } from '../../core/media/identity';
import { fileName, type Item, type MediaFacts } from '../../core/media/item';
import { splitExtension } from '../../core/naming/safe-name';
import type { FoundFile } from './walk';

/** `isMoved`: the same file on the disk, under another name; otherwise a copy, which may be damaged where no sample was taken. */
export interface Recognised {
  readonly facts: MediaFacts;
  readonly isMoved: boolean;
}

interface Content {
  readonly facts: MediaFacts;
  /** The files that hold it, by number and time of birth. */
  readonly files: Map<string, FileIdentity>;
}

/**
 * Facts by size and ending, of whatever this version has read whole and without trouble. The fingerprint decides whether it is
 * the same content, and only one that can prove it: of silence and black many files have the same. Times say nothing: copiers
 * round them.
 */
export class KnownContents {
  private readonly looks = new Map<string, Map<string, Content>>();

  /** `isCurrent`: its facts were read by this version. */
  constructor(known: Iterable<{ readonly item: Item; readonly isCurrent: boolean }>) {
    for (const { item, isCurrent } of known) {
      const { fingerprint, sizeBytes, identity, facts, problem, damage, place } = item;
      if (!isCurrent || fingerprint === null || problem !== null || damage !== undefined) continue;
      if (facts.kind === 'other' || !canProve(fingerprint, facts.kind === 'sequence')) continue;
      const look = lookOf(place.path, sizeBytes, facts.sequence);
      const contents = this.looks.get(look) ?? new Map<string, Content>();
      this.looks.set(look, contents);
      const content = contents.get(fingerprint) ?? { facts, files: new Map<string, FileIdentity>() };
      contents.set(fingerprint, content);
      if (identity) content.files.set(objectOf(identity), identity);
    }
  }

  /** Null where nothing like it is known; otherwise recognises it by its fingerprint, or gives null for another content. */
  like({ path, sizeBytes, identity, sequence }: FoundFile): ((fingerprint: string) => Recognised | null) | null {
    const contents = this.looks.get(lookOf(path, sizeBytes, sequence));
    if (!contents) return null;
    return (fingerprint) => {
      const content = contents.get(fingerprint);
      if (!content) return null;
      const file = content.files.get(objectOf(identity));
      // A number is given anew by many file systems: without a time of birth it says too little. That of a sequence is made of all that is known of its frames.
      const isTelling = identity.bornNs !== '0' || sequence !== null;
      return { facts: content.facts, isMoved: file !== undefined && isTelling && looksSame(file, identity) };
    };
  }
}

function objectOf({ inode, bornNs }: FileIdentity): string {
  return `${inode} ${bornNs}`;
}

/** How a file is read depends on its ending, and the facts of a sequence hold its names. */
function lookOf(path: string, sizeBytes: number, sequence: MediaFacts['sequence']): string {
  return sequence ? JSON.stringify(sequence) : `${sizeBytes} ${splitExtension(fileName(path))[1].toLowerCase()}`;
}
