import type { ReactNode } from 'react';
import type { StepView } from '../../server/actions/step-views';
import { fullDate } from '../shared/dates';
import { Bytes, plural } from '../shared/figures';
import { PathText } from '../shared/PathText';
import type { ShelfNames } from '../shared/use-shelf-names';
import './runs.css';

/** All that a receipt says of one step, nothing cut off. */
export function StepFacts({ row, names, word }: { row: StepView; names: ShelfNames; word: ReactNode }) {
  const { step, outcome, message } = row;
  const place = (at: NonNullable<StepView['step']['to']>) => <PathText path={at.path} shelf={names(at.shelfId)} />;
  const facts: [string, ReactNode][] = [
    ['Action', step.action],
    ...(step.from ? [['From', place(step.from)] as [string, ReactNode]] : []),
    ...(step.to ? [['To', place(step.to)] as [string, ReactNode]] : []),
    ['Why', step.reason],
    ['Result', word],
    ...(outcome?.checked ? [['Checked', outcome.checked] as [string, ReactNode]] : []),
    ...(outcome && step.action !== 'link' ? [['Size', <Bytes key="s" value={outcome.bytes} />] as [string, ReactNode]] : []),
    ...(outcome?.sha256 ? [['SHA-256', <Sum key="c" sha256={outcome.sha256} />] as [string, ReactNode]] : []),
    ...(row.startedAt ? [['Begun', fullDate(row.startedAt)] as [string, ReactNode]] : []),
    ...(row.endedAt ? [['Ended', fullDate(row.endedAt)] as [string, ReactNode]] : []),
  ];
  const files = outcome?.files ?? [];
  return (
    <div className="step-facts">
      {message && <div className={`note ${row.state === 'failed' ? 'stops' : 'warns'}`}>{message}</div>}
      <dl>
        {facts.map(([name, value]) => (
          <div key={name}>
            <dt>{name}</dt>
            <dd>{value}</dd>
          </div>
        ))}
      </dl>
      {files.length > 0 && (
        <>
          <div className="soft">
            {plural(row.fileCount ?? files.length, 'file')}
            {row.fileCount !== null && row.fileCount > files.length && `, the first ${files.length} of them here; the printed receipt lists all`}
          </div>
          <div className="step-files">
            {files.map((file) => (
              <div key={file.name}>
                <span className="mono">{file.name}</span> <Bytes value={file.bytes} /> <Sum sha256={file.sha256} />
              </div>
            ))}
          </div>
        </>
      )}
    </div>
  );
}

function Sum({ sha256 }: { sha256: string }) {
  return <span className="mono sum">{sha256}</span>;
}
