import { Button } from '@mantine/core';
import { useQueryClient } from '@tanstack/react-query';
import { useMemo, useState } from 'react';
import type { Place } from '../../core/media/item';
import type { RelinkDetail } from '../../core/planning/relink';
import type { RelinkRow } from '../../core/planning/relink-groups';
import { api } from '../shared/api';
import { plural } from '../shared/figures';
import { Frame } from '../shared/Frame';
import { tellError } from '../shared/notices';
import { PlacePicker } from '../shared/PlacePicker';
import { PlanSheet } from '../shared/PlanSheet';
import { usePlan } from '../shared/use-plan';
import { useShelfNames } from '../shared/use-shelf-names';
import { EvidenceTable } from './EvidenceTable';
import { ReasonCard } from './ReasonCard';
import './relink.css';

/** What is offline, why, and where it is now. Nothing changes before the sheet is run. */
export function Relink({ projectId }: { projectId: string }) {
  const client = useQueryClient();
  const [scope, setScope] = useState<Place | null>(null);
  const [choices, setChoices] = useState<Record<string, string | null>>({});
  const [openGroup, setOpenGroup] = useState<string | null>(null);
  const [openClip, setOpenClip] = useState<string | null>(null);
  const settings = useMemo(() => ({ scope, choices }), [scope, choices]);
  const state = usePlan<RelinkDetail>('relink', projectId, settings);
  const names = useShelfNames();
  const detail = state.plan?.detail;
  const group = detail?.groups.find((entry) => entry.key === openGroup) ?? detail?.groups[0];
  const row = group?.rows.find((entry) => entry.key === openClip) ?? group?.rows[0];

  const choose = (clipId: string, itemId: string | null) => setChoices((old) => ({ ...old, [clipId]: itemId }));
  const acceptAgreeing = (rows: readonly RelinkRow[], accept: boolean) =>
    setChoices((old) => ({
      ...old,
      ...Object.fromEntries(
        rows
          .filter((entry) => entry.matches[0] && entry.matches[0].strength !== 'offered')
          .map((entry) => [entry.key, accept ? entry.matches[0]!.itemId : null]),
      ),
    }));
  const setAside = (rows: readonly RelinkRow[], aside: boolean) =>
    void api
      .patch(`projects/${projectId}/clips`, { clipIds: rows.map((entry) => entry.clipId), setAside: aside })
      .then(() => client.invalidateQueries(), tellError);

  const title = !detail
    ? 'Relink'
    : detail.offline === 0
      ? 'Nothing is offline'
      : `${plural(detail.offline, 'clip')} cannot be read, for ${plural(detail.groups.length, 'reason')}`;
  return (
    <Frame
      projectId={projectId}
      stage="relink"
      sheet={
        <PlanSheet
          state={state}
          idle=""
          runLabel={(plan) => (plan.headline.value === 0 ? 'Relink the clips' : `Relink ${plural(plan.headline.value, 'clip')}`)}
        />
      }
    >
      <div style={{ display: 'flex', alignItems: 'end', gap: 12, flex: 'none' }}>
        <div style={{ flex: 1, minWidth: 0 }}>
          <h1>{title}</h1>
          <p className="lead">
            {detail && detail.offline > 0
              ? `${detail.found} of ${detail.offline} found. Settle a reason, not a clip; nothing changes before you run the sheet.`
              : 'Every clip has its media.'}
          </p>
        </div>
        {detail && detail.offline > 0 && <PlacePicker label="Where to look" none="On every shelf" value={scope} onChange={setScope} />}
      </div>
      {detail?.offline === 0 && (
        <div className="empty">
          <b>All clips are present</b>
          When a drive is unplugged, a folder renamed or a file deleted, its clips are listed here with the reason.
          <div>
            <Button component="a" variant="default" href={`/p/${projectId}/pull`}>
              Go on to Pull
            </Button>
          </div>
        </div>
      )}
      <div className="reasons">
        {detail?.groups.map((entry) => (
          <ReasonCard
            key={entry.key}
            group={entry}
            names={names}
            open={entry === group}
            openClip={entry === group ? (row?.key ?? null) : null}
            onOpen={() => (setOpenGroup(entry.key), setOpenClip(null))}
            onOpenClip={setOpenClip}
            onChoose={choose}
            onAcceptAll={(accept) => acceptAgreeing(entry.rows, accept)}
            onSetAside={(aside) => setAside(entry.rows, aside)}
          />
        ))}
      </div>
      {row && <EvidenceTable row={row} names={names} onChoose={(itemId) => choose(row.key, itemId)} />}
    </Frame>
  );
}
