import { SegmentedControl } from '@mantine/core';
import { useState } from 'react';
import { Bins } from './Bins';
import { Compare } from './Compare';
import { Cuts } from './Cuts';
import type { Going } from './going';
import { Usage } from './Usage';
import './timelines.css';

const VIEWS = [
  { value: 'cuts', label: 'Timelines' },
  { value: 'usage', label: 'Usage' },
  { value: 'bins', label: 'Bins and clips' },
  { value: 'versions', label: 'Versions' },
] as const;
type ViewName = (typeof VIEWS)[number]['value'];

/** What the address asks for: ?view, ?timeline, ?event, ?find. */
const asked = typeof window === 'undefined' ? new URLSearchParams() : new URLSearchParams(window.location.search);

/** What the timelines use, of which media, how much of each. */
export function Timelines({ projectId }: { projectId: string }) {
  const [view, setView] = useState<ViewName>(VIEWS.find((entry) => entry.value === asked.get('view'))?.value ?? 'cuts');
  const [going, setGoing] = useState<Going>({
    timelineId: asked.get('timeline'),
    eventIndex: asked.has('event') ? Number(asked.get('event')) : null,
    find: asked.get('find') ?? '',
  });
  const show = (name: ViewName) => {
    setView(name);
    window.history.replaceState(null, '', name === 'cuts' ? window.location.pathname : `?view=${name}`);
  };
  const [versionsOf, setVersionsOf] = useState<string | null>(null);
  const compare = (timelineId: string) => {
    setVersionsOf(timelineId);
    show('versions');
  };
  /** From any view to an event on its timeline. */
  const open = (timelineId: string, eventIndex: number | null) => {
    setGoing({ timelineId, eventIndex, find: '' });
    show('cuts');
  };
  const tabs = <SegmentedControl size="xs" data={[...VIEWS]} value={view} onChange={(value) => show(value as ViewName)} aria-label="View" />;
  const shared = { projectId, tabs, onOpen: open };
  if (view === 'usage') return <Usage {...shared} />;
  if (view === 'bins') return <Bins {...shared} />;
  if (view === 'versions') return <Compare {...shared} versionsOf={versionsOf} />;
  return <Cuts {...shared} going={going} onCompare={compare} />;
}
