import { Loader } from '@mantine/core';

/** First line of the paper: what it is, and whether it is being brought up to date. */
export function SheetHead({ following, words = 'Plan sheet · nothing has been touched yet' }: { following: boolean; words?: string }) {
  return (
    <div className="soft sheet-head">
      {words} {following && <Loader size={12} aria-label="The plan is being brought up to date" />}
    </div>
  );
}
