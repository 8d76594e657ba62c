import type { ReactNode } from 'react';

/** Fields on the paper that belong together, with what they are for above them. */
export function SheetField({ label, children }: { label: string; children: ReactNode }) {
  return (
    <div className="sheet-field">
      <span className="soft small">{label}</span>
      {children}
    </div>
  );
}
