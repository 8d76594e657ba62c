import { useState } from 'react';
import type { Finding } from '../../core/planning/finding';

const FIRST = 4;

/** What a plan or a reader has to tell, the grave first. */
export function Findings({ findings }: { findings: readonly Finding[] }) {
  const [all, setAll] = useState(false);
  const order = { stops: 0, warns: 1, notes: 2 };
  const sorted = [...findings].sort((a, b) => order[a.severity] - order[b.severity]);
  const shown = all ? sorted : sorted.slice(0, FIRST);
  return (
    <>
      {shown.map((finding, index) => (
        <div key={`${finding.code}${index}`} className={`note ${finding.severity}`}>
          <p>
            {finding.where && /^(line|\$)/.test(finding.where) && <b>{finding.where}: </b>}
            {finding.message}
          </p>
          {finding.hint && <p className="hint">{finding.hint}</p>}
        </div>
      ))}
      {sorted.length > FIRST && (
        <button type="button" className="linkish soft" onClick={() => setAll(!all)}>
          {all ? 'Show fewer' : `Show ${sorted.length - FIRST} more`}
        </button>
      )}
    </>
  );
}
