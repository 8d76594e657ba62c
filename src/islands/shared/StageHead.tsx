import type { ReactNode } from 'react';

interface Props {
  readonly title: ReactNode;
  /** What the stage is about, or how things stand, in a sentence. */
  readonly lead: ReactNode;
  /** At the right end: tabs, a filter, a button. */
  readonly children?: ReactNode;
}

/** The head of a stage. */
export function StageHead({ title, lead, children }: Props) {
  return (
    <div className="title-row">
      <div className="grow">
        <h1>{title}</h1>
        <p className="lead">{lead}</p>
      </div>
      {children}
    </div>
  );
}
