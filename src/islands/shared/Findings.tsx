import { useState } from 'react';
import type { Finding } from '../../core/words/finding';

const FIRST = 4;

/** What a plan or a reader has to tell, the grave first. What it asks for is told at its field; see Ask. */
export function Findings({ findings }: { findings: readonly Finding[] }) {
  const [all, setAll] = useState(false);
  const order = { stops: 0, asks: 1, warns: 2, notes: 3 };
  const sorted = findings.filter(({ severity }) => severity !== 'asks').sort((a, b) => order[a.severity] - order[b.severity]);
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
