import type { ReactNode } from 'react';

/** A list with nothing in it: what is so, and what to do. */
export function Empty({ title, icon, children }: { title: ReactNode; icon?: ReactNode; children?: ReactNode }) {
  return (
    <div className="empty">
      {icon}
      <b>{title}</b>
      {children}
    </div>
  );
}
