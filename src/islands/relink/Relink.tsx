import { Button } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import type { Place } from '../../core/media/item';
import type { RelinkSettings } from '../../core/planning/relink/settings';
import type { ReasonDecision } from '../../core/planning/relink/settings';
import type { RelinkRow } from '../../core/planning/relink/relink-groups';
import { allRows } from '../shared/all-rows';
import { api } from '../shared/api';
import { Face } from '../shared/Face';
import { useAdditions } from '../shared/use-additions';
import { useAddressWord } from '../shared/use-address';
import { usePinned } from '../shared/use-pinned';
import { plural } from '../shared/figures';
import { InStage } from '../shared/InStage';
import { tellError } from '../shared/notices';
import { FindMedia } from '../shared/FindMedia';
import { NameAdditions } from '../shared/NameAdditions';
import { PlacePicker } from '../shared/PlacePicker';
import { PlanSheet } from '../shared/PlanSheet';
import { relinkForm } from '../../core/planning/relink/settings';
import { usePlan } from '../shared/use-plan';
import { useShelfNames } from '../shared/use-shelf-names';
import { useWindow } from '../shared/table/use-window';
import { ClipRows } from './ClipRows';
import { EvidenceTable } from './EvidenceTable';
import { ReasonCard } from './ReasonCard';
import './relink.css';
import { StageHead } from '../shared/StageHead';
import { Empty } from '../shared/Empty';

/** Clips that are named in one question. */
const MOST_AT_ONCE = 10_000;

/** What is offline, why, and where it is now. Nothing changes before the sheet is run. */
export function Relink({ projectId }: { projectId: string }) {
  const client = useQueryClient();
  const [scope, setScope] = useState<Place | null>(null);
  const [choices, setChoices] = useState<Choices>({});
  const [openGroup, setOpenGroup] = useAddressWord('reason');
  const [openRow, holdRow] = useState<RelinkRow | null>(null);
  const [clipWord, setClipWord] = useAddressWord('clip');
  const setOpenRow = (next: RelinkRow | null) => (holdRow(next), setClipWord(next?.key ?? null));
  const [reasons, setReasons] = useState<Record<string, ReasonDecision>>({});
  const [additions, setAdditions] = useAdditions(projectId);
  const [reading, setReading] = useState<string | null>(null);
  const settings = useMemo(
    (): RelinkSettings => ({ scope, choices: itemsOf(choices), reasons, ...(additions ? { additions } : {}) }),
    [scope, choices, reasons, additions],
  );
  const state = usePlan('relink', projectId, settings, relinkForm);
  const names = useShelfNames();
  const detail = state.plan?.detail;
  const groups = detail?.groups ?? [];
  const firstGroup = usePinned(groups[0]?.key, (key) => groups.some((entry) => entry.key === key));
  const group = groups.find((entry) => entry.key === openGroup) ?? groups.find((entry) => entry.key === firstGroup);
  // The clips of the reason that stand under the plan, the begin of them with it.
  const list = useWindow<RelinkRow>(['plan', 'rows'], group && group.count > group.rows.length ? 'plans/rows' : null, {
    projectId,
    settings: state.settings,
    kind: 'relink',
    group: group?.key,
  });
  const rows = list.total === undefined ? (group?.rows ?? []) : list.rows;
  // A row that is out of sight is still the one in hand; one that has left the reason is not.
  const isWindow = list.total !== undefined && list.total > rows.filter((entry) => entry !== undefined).length;
  const firstRow = usePinned(rows.find((entry) => entry !== undefined)?.key, (key) => rows.some((entry) => entry?.key === key));
  const wanted = openRow?.key ?? clipWord ?? firstRow;
  const row = rows.find((entry) => entry?.key === wanted) ?? (isWindow ? openRow : null) ?? rows.find((entry) => entry?.key === firstRow);

  const choose = (of: RelinkRow, itemId: string | null) => group && setChoices((old) => ({ ...old, [of.key]: { reason: group.key, itemId } }));
  const decide = (reason: string, decision: ReasonDecision) => {
    setReasons((old) => ({ ...old, [reason]: decision }));
    // A word for all of them takes the place of what was said of each.
    setChoices((old) => Object.fromEntries(Object.entries(old).filter(([, choice]) => choice.reason !== reason)));
  };
  const setAside = async (reason: string, aside: boolean) => {
    try {
      const rows = await allRows<RelinkRow>({ projectId, kind: 'relink', settings, group: reason });
      const clipIds = [...new Set(rows.map(({ clipId }) => clipId))];
      // A question holds no more than a megabyte.
      for (let from = 0; from < clipIds.length; from += MOST_AT_ONCE)
        await api.patch(`projects/${projectId}/clips`, { clipIds: clipIds.slice(from, from + MOST_AT_ONCE), setAside: aside });
      await client.invalidateQueries();
    } catch (error) {
      tellError(error);
    }
  };

  const title = !detail
    ? 'Relink'
    : detail.offline === 0
      ? detail.moved > 0
        ? `Nothing is offline; files of ${plural(detail.moved, 'clip')} were moved`
        : 'Nothing is offline'
      : `${plural(detail.offline, 'clip')} cannot be read, for ${plural(detail.groups.length, 'reason')}`;
  return (
    <InStage
      sheet={
        <PlanSheet
          state={state}
          idle=""
          runLabel={(plan) => (plan.headline.value === 0 ? 'Relink the clips' : `Relink ${plural(plan.headline.value, 'clip')}`)}
        />
      }
    >
      <StageHead
        title={title}
        lead={
          detail && detail.offline > 0
            ? `${detail.found} of ${detail.offline} found. Decide once for each cause. Nothing changes until you run the plan.`
            : detail
              ? detail.moved > 0
                ? 'These clips are read from copies. Nothing changes until you run the plan.'
                : 'Every clip has its media.'
              : 'What is offline, why, and where it is now.'
        }
      >
        {detail && detail.offline > 0 && (
          <>
            <PlacePicker label="Where to look" none="On every shelf" value={scope} onChange={setScope} />
            <NameAdditions value={additions} onChange={setAdditions} />
          </>
        )}
      </StageHead>
      {!detail && (
        <Face asked={state.asked} lines={10}>
          {null}
        </Face>
      )}
      {detail?.offline === 0 && detail.moved === 0 && (
        <Empty title="All clips are present">
          When a drive is unplugged, a folder renamed or a file deleted, its clips are listed here with the reason.
          <div>
            <Button component="a" variant="default" href={`/p/${projectId}/pull`}>
              Go on to Pull
            </Button>
          </div>
        </Empty>
      )}
      <div className="reasons">
        {detail?.groups.map((entry) => (
          <ReasonCard
            key={entry.key}
            group={entry}
            names={names}
            open={entry === group}
            onOpen={() => entry === group || (setOpenGroup(entry.key), setOpenRow(null))}
            onDecide={(decision) => decide(entry.key, decision)}
            onSetAside={(aside) => void setAside(entry.key, aside)}
            actions={entry.key === 'nowhere' && <FindMedia label="Look in another folder" reading={reading} onReading={setReading} />}
          >
            <ClipRows rows={rows} pages={list} selected={row?.key ?? null} onOpen={setOpenRow} onChoose={choose} />
          </ReasonCard>
        ))}
      </div>
      {row && <EvidenceTable key={row.key} row={row} names={names} onChoose={(itemId) => choose(row, itemId)} />}
    </InStage>
  );
}

/** By the key of a row: what was said of it, and for which reason it stood there then. */
type Choices = Readonly<Record<string, { readonly reason: string; readonly itemId: string | null }>>;

function itemsOf(choices: Choices): Record<string, string | null> {
  return Object.fromEntries(Object.entries(choices).map(([key, { itemId }]) => [key, itemId]));
}
