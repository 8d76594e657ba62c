import type { ReactNode } from 'react';
import type { PlanView } from '../../server/kinds/plan-views';
import { InStage } from '../shared/InStage';
import { PlanSheet } from '../shared/PlanSheet';
import { StageHead } from '../shared/StageHead';
import type { PlanState } from '../shared/use-plan';
import './proxies.css';

interface Props<Detail> {
  readonly title: string;
  readonly lead: string;
  readonly tabs: ReactNode;
  readonly state: PlanState<Detail>;
  /** Words of the button; null where there is nothing to run. */
  readonly runLabel: ((plan: PlanView<Detail>) => string) | null;
  /** Choices on the paper. */
  readonly sheet: ReactNode;
  readonly children: ReactNode;
}

/** One view of the stage: its head with the others, the plan on the paper, and its lists. */
export function ProxiesView<Detail>({ title, lead, tabs, state, runLabel, sheet, children }: Props<Detail>) {
  return (
    <InStage
      sheet={
        <PlanSheet state={state} idle={null} runLabel={runLabel}>
          {sheet}
        </PlanSheet>
      }
    >
      <StageHead title={title} lead={lead}>
        {tabs}
      </StageHead>
      {children}
    </InStage>
  );
}
