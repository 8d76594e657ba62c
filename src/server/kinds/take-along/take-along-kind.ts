import { fileName, samePlace, type Place } from '../../../core/media/item';
import type { Plan } from '../../../core/planning/plan/plan';
import type { CatalogueChange } from '../../../core/planning/plan/step';
import { takeAlongForm, type TakeAlongSettings } from '../../../core/planning/take-along/settings';
import {
  planTakeAlong,
  rowsOf,
  type TakeAlongDetail,
  type TakeAlongRow,
  type TakeFate,
  type TakenAlong,
} from '../../../core/planning/take-along/take-along';
import { timelinesNamed } from '../../../core/planning/taking/clip-scope';
import { isExpected, type MediaLink } from '../../../core/project/clip';
import { RENDITION_KINDS } from '../../../core/rendition/read-order';
import { filterWords, fits } from '../../../core/words/filter-words';
import { notFound } from '../../errors/problem';
import type { Catalogue } from '../../catalogue/catalogue';
import { cutInOrder, type Window, type WindowQuery } from '../../../core/lists/list-window';
import { linkTo } from '../../projects/make-clip';
import { StepFailure } from '../../errors/explain-error';
import { stockAndEnter } from '../adopt/adopt';
import type { ChangeMaker } from '../../actions/step-context';
import { defineKind } from '../kind';
import { projectSnapshot } from '../project-snapshot';
import { standingIn } from '../standing';
import { plural } from '../../../core/words/figures';

/** Links as they were; those that point elsewhere by now are left so. */
interface TakenBack extends CatalogueChange {
  readonly type: 'taken-back';
  readonly links: readonly { readonly renditionId: string; readonly position: number; readonly link: MediaLink; readonly only: Place }[];
}

const takenAlong: ChangeMaker<TakenAlong> = {
  toTell: (change) => ({ ...change, links: [] }) as CatalogueChange,
  onDisk: {
    at: ({ bases }) => bases,
    async work({ bases }, context) {
      for (const base of bases) await stockAndEnter({ base }, context);
    },
  },
  make({ links }, { catalogue }) {
    const back: TakenBack['links'][number][] = [];
    let left = 0;
    for (const { renditionId, position, from, to } of links) {
      const now = catalogue.clips.linkAt(renditionId, position);
      // Taken out, or pointed elsewhere meanwhile: whoever did so meant it.
      if (!now || !(samePlace(now.place, from) || isCopyOf(catalogue, now, from))) {
        left++;
        continue;
      }
      const item = catalogue.items.at(to);
      if (!item || !isExpected(item, now)) throw new StepFailure(`The copy of ${fileName(from.path)} is not what its clip links. Nothing was changed in the project; try again.`); // prettier-ignore
      back.push({ renditionId, position, link: now, only: to });
      catalogue.clips.relink(renditionId, position, linkTo(item, now.url));
      catalogue.sources.choose(renditionId, position, true);
    }
    const checked = `${plural(back.length, 'link points', 'links point')} at the copies${left > 0 ? `, ${left} changed meanwhile and left` : ''}`;
    return { bytes: 0, checked, back: { type: 'taken-back', links: back } satisfies TakenBack };
  },
};

/** Whether what was copied is a copy of what is linked: it was read in its stead. */
function isCopyOf(catalogue: Catalogue, { place }: MediaLink, read: Place): boolean {
  return place !== null && catalogue.sources.isCopy(place, read);
}

const takenBack: ChangeMaker<TakenBack> = {
  toTell: (change) => ({ ...change, links: [] }) as CatalogueChange,
  make({ links }, { catalogue }) {
    let went = 0;
    for (const { renditionId, position, link, only } of links) {
      if (!samePlace(catalogue.clips.linkAt(renditionId, position)?.place ?? null, only)) continue;
      catalogue.clips.relink(renditionId, position, link);
      catalogue.sources.choose(renditionId, position, false);
      went++;
    }
    return { bytes: 0, checked: plural(went, 'link as it was', 'links as they were') };
  },
};

export const takeAlongKind = defineKind<TakeAlongSettings, TakeAlongDetail>()({
  form: takeAlongForm,
  undoable: true,
  takesOver: true,
  isKept: true,
  changes: { 'taken-along': takenAlong, 'taken-back': takenBack },
  rows: { sorts: ['name', 'size'], of: takeWindow },
  toTell: (plan) => ({ ...plan.detail, rows: [] }),
  async plan(asked, settings) {
    const snapshot = await projectSnapshot(asked, timelinesNamed(settings.scope));
    const rows = rowsOf(settings, snapshot.project);
    const standing = Object.fromEntries(
      RENDITION_KINDS.filter((kind) => rows[kind].isTaken).map((kind) => {
        const { destination, folderName } = rows[kind];
        return [kind, standingIn(asked.mounts, destination, folderName, 64)];
      }),
    );
    return planTakeAlong(snapshot, settings, standing);
  },
});

const GROUPS: Readonly<Record<string, TakeFate | null>> = {
  '': null,
  copied: 'copied',
  there: 'there already',
  lacking: 'lacks',
  cannot: 'cannot',
  'no-room': 'no room',
};

function takeWindow(
  plan: Plan<TakeAlongDetail>,
  _settings: TakeAlongSettings,
  group: string,
  query: WindowQuery<'name' | 'size'>,
): Window<TakeAlongRow> {
  const fate = Object.hasOwn(GROUPS, group) ? GROUPS[group] : undefined;
  if (fate === undefined && group !== 'lighter') throw notFound('list');
  const words = filterWords(query.filter);
  const rows = plan.detail.rows
    .filter((row) => (group === 'lighter' ? row.insteadOf !== null : fate === null || row.fate === fate))
    .filter(({ name, kind, place }) => fits(words, `${name} ${kind} ${place?.path ?? ''}`));
  return cutInOrder(rows, query, ({ bytes }) => bytes);
}
