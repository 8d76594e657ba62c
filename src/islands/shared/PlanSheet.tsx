import { Button } from '@mantine/core';
import { useEffect, useRef, useState, type ReactNode } from 'react';
import { formatBytes, formatCount } from '../../core/words/figures';
import type { PlanLine, ShelfFill } from '../../core/planning/plan/plan';
import type { PlanView } from '../../server/kinds/plan-views';
import { ApiError } from './api';
import { Waiting } from './Face';
import { Bytes, plural } from './figures';
import { Findings } from './Findings';
import { handIsFree } from './Dialog';
import { Receipt } from './Receipt';
import { SheetHead } from './SheetHead';
import type { PlanState } from './use-plan';
import { ErrorNote } from './ErrorNote';

interface Props<Detail> {
  readonly state: PlanState<Detail>;
  /** Null where there is nothing to run. */
  readonly runLabel: ((plan: PlanView<Detail>) => string) | null;
  /** Said while there is nothing to plan; null while that is not known. */
  readonly idle: string | null;
  /** Settings that belong on the sheet. */
  readonly children?: ReactNode;
}

/** The paper on the right: what would happen now. It turns into the receipt of the run it started. */
export function PlanSheet<Detail>({ state, runLabel, idle, children }: Props<Detail>) {
  const { plan } = state;
  const waits = useWaits(state.following);
  const [wrong] = Object.values(state.invalid);
  const isReceipt = state.receiptId !== null;
  // The keyboard goes where the hand is: back from the receipt it is on the button.
  const was = useRef(isReceipt);
  useEffect(() => {
    if (was.current && !isReceipt && handIsFree()) document.querySelector<HTMLElement>('.sheet [data-run-plan]')?.focus();
    was.current = isReceipt;
  }, [isReceipt]);
  // An earlier plan stays to be read while the server is not heard; a plan of other settings is no plan of these.
  const { error } = state.asked;
  const failed = error && !(plan && error instanceof ApiError && error.status === 0) ? error : null;
  if (state.receiptId !== null) return <Receipt key={state.receiptId} runId={state.receiptId} onBack={state.backToPlan} />;
  // One tree for every state: a field that is being used must not be made anew when the plan arrives.
  return (
    <>
      <div className="sheet-body" data-plan-waits={waits ? '' : undefined}>
        <SheetHead following={state.following} />
        {state.isIdle || (wrong !== undefined && !plan) ? (
          // Settings that were kept and cannot be: there is no earlier plan to go on showing.
          wrong === undefined && idle === null ? (
            <Waiting lines={5} label="What there is to plan is being read" />
          ) : (
            <p className="soft tight">{wrong ?? idle}</p>
          )
        ) : failed ? (
          <ErrorNote error={failed} onAgain={state.asked.again} />
        ) : plan ? (
          <PlanTop plan={plan} />
        ) : (
          <Waiting lines={5} label="The plan is being made" />
        )}
        {children}
        {plan && !failed && <Findings findings={plan.findings} />}
      </div>
      {!state.isIdle && runLabel && (
        <div className="sheet-foot">
          <Button
            fullWidth
            size="md"
            data-run-plan=""
            disabled={!plan || failed !== null || plan.blocked !== null || wrong !== undefined || state.isOlder}
            loading={state.running}
            onClick={state.run}
            aria-describedby="why-not"
          >
            {plan && !failed ? runLabel(plan) : 'Run this plan'}
          </Button>
          <div id="why-not" className="soft why-not">
            {wrong ?? (failed ? 'There is no plan to run.' : (plan?.blocked ?? ''))}
          </div>
        </div>
      )}
    </>
  );
}

/** Whether a plan has been waited for long enough to be seen waiting: figures of the old one, marked `of-plan`, fade until it comes. */
function useWaits(following: boolean): boolean {
  const [waits, setWaits] = useState(false);
  useEffect(() => {
    if (!following) return setWaits(false);
    const timer = setTimeout(() => setWaits(true), WAITS_MS);
    return () => clearTimeout(timer);
  }, [following]);
  return waits && following;
}

const WAITS_MS = 300;

function PlanTop<Detail>({ plan }: { plan: PlanView<Detail> }) {
  return (
    <>
      <Headline plan={plan} />
      <Lines lines={plan.lines} />
      {plan.fills.map((fill) => (
        <Fill key={fill.shelfId} fill={fill} />
      ))}
    </>
  );
}

function Headline<Detail>({ plan }: { plan: PlanView<Detail> }) {
  const { value, of, unit, words } = plan.headline;
  const show = (count: number) => (unit === 'bytes' ? formatBytes(count) : formatCount(count));
  return (
    <div className="big" title={unit === 'bytes' ? `${formatCount(value)} of ${formatCount(of)} bytes` : undefined}>
      {show(value)}{' '}
      <small>
        of {show(of)} {unit === 'bytes' ? '' : of === 1 ? unit.slice(0, -1) : unit} {words}
      </small>
    </div>
  );
}

export function Lines({ lines }: { lines: readonly PlanLine[] }) {
  return (
    <dl>
      {lines.map((line) => (
        <div key={line.label} className="terms">
          <dt>{line.label}</dt>
          <dd>
            {line.text ?? ''}
            {line.files !== undefined && plural(line.files, 'file')}
            {line.clips !== undefined && plural(line.clips, 'clip')}
            {line.bytes !== undefined && (
              <>
                {' · '}
                <Bytes value={line.bytes} />
              </>
            )}
          </dd>
        </div>
      ))}
    </dl>
  );
}

function Fill({ fill }: { fill: ShelfFill }) {
  const { capacityBytes, freeBytes } = fill;
  if (capacityBytes === null || freeBytes === null)
    return (
      <div className="soft label-above">
        {fill.name} · {formatBytes(fill.addsBytes)} more; its free space is unknown
      </div>
    );
  const used = capacityBytes - freeBytes;
  const percent = (bytes: number) => `${(100 * bytes) / Math.max(1, capacityBytes)}%`;
  const over = fill.addsBytes > freeBytes;
  return (
    <div>
      <div className="soft label-above">
        {fill.name} · {formatBytes(capacityBytes)}, {formatBytes(Math.max(0, freeBytes - fill.addsBytes))} free afterwards
      </div>
      <div className="gauge" role="img" aria-label={`${fill.name}: ${formatBytes(used)} used, ${formatBytes(fill.addsBytes)} more`}>
        <i style={{ width: percent(used) }} />
        <u className={over ? 'over' : ''} style={{ width: percent(Math.min(fill.addsBytes, freeBytes)) }} />
      </div>
    </div>
  );
}
