/** The folder a unit goes to, below the project's own. */
import { isWithin } from '../../naming/within';
import { stemOf } from '../../media/card';
import { fileName, folderOf, joinPath } from '../../media/item';
import { foldPath } from '../../naming/fold-path';
import { safeName } from '../../naming/name-level';
import { readPattern, renderPattern, type Pattern, type TokenValues } from '../../scheme/pattern';
import { allFolders, folderFor, REST, schemePatterns, type SchemeFolder } from '../../scheme/scheme';
import type { SortFacts } from '../../scheme/rule';
import type { SortSettings } from './settings';
import type { SortInput } from './sort-input';
import { clipNameOf } from './clip-name';
import { factsOf, type Unit } from './units';

/** A card is a bin of its own: it lies in the folder around that, not in one of its name within it. */
function aroundOwnBin(bin: string, { kind, root }: Unit): string {
  const isOwn = kind === 'card' && root !== null && foldPath(fileName(bin)) === foldPath(fileName(root.path));
  return isOwn ? folderOf(bin) : bin;
}

export interface Target {
  /** Of the scheme's folder; REST; the path itself where no scheme parts them. */
  readonly folderId: string;
  /** Below the destination: the project's own folder first. */
  readonly path: string;
  readonly why: string;
  readonly isException: boolean;
}

export function tokenValues(facts: SortFacts, input: SortInput, settings: SortSettings): TokenValues {
  return {
    project: input.project.name,
    day: facts.day,
    date: settings.date,
    camera: facts.camera,
    reel: facts.reel,
    scene: facts.scene,
    take: facts.take,
    kind: facts.kind,
    codec: facts.codec,
    // A clip that the sort itself makes is one already: else the next sort would name its file another way.
    clip: facts.clips[0]?.name ?? (settings.makeClips && facts.kind !== 'other' ? clipNameOf(facts.original, facts.kind === 'sequence') : null),
    original: stemOf(facts.original),
    bin: facts.clips[0]?.bin ?? null,
  };
}

/** The project's own folder as one portable name; "" where it would be none. */
export function rootFolder(input: Pick<SortInput, 'project'>, settings: Pick<SortSettings, 'rootName' | 'names' | 'date'>): string {
  const pattern = readPattern(settings.rootName);
  if ('problem' in pattern || settings.rootName.trim() === '') return '';
  return safeName(renderPattern(pattern, { project: input.project.name, date: settings.date }, 1).trim(), settings.names.level);
}

export class TargetFolders {
  private readonly ways: ReadonlyMap<string, readonly SchemeFolder[]>;
  private readonly patterns: ReadonlyMap<string, Pattern>;
  private readonly exceptions: ReadonlyMap<string, string>;
  readonly root: string;

  constructor(
    private readonly input: SortInput,
    private readonly settings: SortSettings,
  ) {
    this.ways = new Map(allFolders(settings.scheme.folders).map(({ id, way }) => [id, way]));
    this.patterns = schemePatterns(settings.scheme).patterns;
    this.exceptions = new Map(settings.exceptions.map(({ unitId, folderId }) => [unitId, folderId]));
    this.root = rootFolder(input, settings);
  }

  of(unit: Unit): Target {
    const facts = factsOf(unit, unit.lead, this.input);
    const { structure, scheme } = this.settings;
    const wanted = this.exceptions.get(unit.id);
    if (structure === 'scheme' && wanted !== undefined && (wanted === REST || this.ways.has(wanted)))
      return { folderId: wanted, path: this.pathOf(wanted, facts), why: 'put here by hand', isException: true };
    if (structure === 'bins') {
      const bin = facts.clips[0]?.bin ?? '';
      return this.plain(bin === '' ? scheme.rest : aroundOwnBin(bin, unit), bin === '' ? 'in no bin' : 'after its bin');
    }
    if (structure === 'as-it-was') return this.plain(this.folderThere(unit) ?? this.oldFolder(unit), 'as it was');
    const folder = folderFor(scheme.folders, facts);
    if (!folder) return { folderId: REST, path: this.pathOf(REST, facts), why: 'no rule takes it', isException: false };
    return { folderId: folder.id, path: this.pathOf(folder.id, facts), why: 'by rule', isException: false };
  }

  /** Folders of the standard that need no file to be named. */
  standing(): string[] {
    if (this.settings.structure !== 'scheme') return [];
    const needsFile = (id: string) =>
      (this.ways.get(id) ?? []).some((folder) =>
        this.patterns.get(folder.id)?.parts.some((part) => 'token' in part && part.token !== 'project' && part.token !== 'date'),
      );
    return [...this.ways.keys()].filter((id) => !needsFile(id)).map((id) => this.pathOf(id, null));
  }

  private plain(path: string, why: string): Target {
    const safe = path.split('/').filter((name) => name !== '').map((name) => safeName(name, this.settings.names.level)); // prettier-ignore
    const own = [this.root, ...safe].filter((name) => name !== '').join('/');
    return { folderId: safe.join('/'), path: own, why, isException: false };
  }

  /** Of what lies in the project's own folder already: the folder within it. */
  private folderThere({ lead, root }: Unit): string | null {
    const { destination } = this.settings;
    if (!destination || lead.place.shelfId !== destination.shelfId) return null;
    const own = joinPath(destination.path, this.root);
    const folder = folderOf(root ? root.path : lead.facts.sequence ? folderOf(lead.place.path) : lead.place.path);
    if (!isWithin(folder, own)) return null;
    const rolled = this.settings.perFolder !== null && /\/\d{3,}$/.test(folder);
    return (rolled ? folderOf(folder) : folder).slice(own.length + 1);
  }

  /** The folder it lies in, below what is sorted; below its shelf's name where several are. */
  private oldFolder({ lead, root }: Unit): string {
    const { scope } = this.settings;
    // Frames get a folder of their own there again.
    const folder = folderOf(root ? root.path : lead.facts.sequence ? folderOf(lead.place.path) : lead.place.path);
    if (scope.of === 'folder') {
      const from = scope.place.path;
      return isWithin(folder, from) ? folder.slice(from === '' ? 0 : from.length + 1) : '';
    }
    const shelf = this.input.shelves.find(({ id }) => id === lead.place.shelfId)?.name ?? 'shelf';
    return `${shelf.replaceAll('/', '-')}/${folder}`;
  }

  private pathOf(id: string, facts: SortFacts | null): string {
    const ids = id === REST ? [REST] : (this.ways.get(id) ?? []).map((folder) => folder.id);
    const values = facts ? tokenValues(facts, this.input, this.settings) : { project: this.input.project.name, date: this.settings.date };
    const names = ids.map((own) => {
      const pattern = this.patterns.get(own);
      const name = pattern ? renderPattern(pattern, values, 1) : '';
      return safeName(name.trim(), this.settings.names.level);
    });
    return [this.root, ...names].filter((name) => name !== '').join('/');
  }
}
