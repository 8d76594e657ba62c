import { useAddressPlace, useAddressView, useAddressWord } from '../shared/use-address';
import { ViewTabs } from '../shared/ViewTabs';
import { Bins } from './Bins';
import { Compare } from './Compare';
import { Cuts } from './Cuts';
import { Usage } from './Usage';
import './timelines.css';

const VIEWS = ['cuts', 'usage', 'bins', 'versions'] as const;
const NAMES = { cuts: 'Timelines', usage: 'Usage', bins: 'Bins and clips', versions: 'Versions' } as const;

/** What the timelines use, of which media, how much of each. Where one is stands in the address. */
export function Timelines({ projectId }: { projectId: string }) {
  const [view, show] = useAddressView('view', VIEWS);
  const [, setTimeline] = useAddressPlace('timeline');
  const [, setEvent] = useAddressWord('event');
  const [, setFind] = useAddressWord('find');
  const [, setNewer] = useAddressPlace('newer');
  const [, setOlder] = useAddressPlace('older');
  const go = (next: (typeof VIEWS)[number]) => {
    show(next);
    // What is looked for in one view is not meant for another.
    setFind(null);
  };
  const compare = (timelineId: string) => {
    setOlder(null);
    setNewer(timelineId);
    go('versions');
  };
  /** From any view to an event on its timeline. */
  const open = (timelineId: string, eventIndex: number | null) => {
    setTimeline(timelineId);
    setEvent(eventIndex === null ? null : String(eventIndex));
    go('cuts');
  };
  const tabs = <ViewTabs label="View" names={NAMES} view={view} onChange={go} />;
  const shared = { projectId, tabs, onOpen: open };
  if (view === 'usage') return <Usage {...shared} />;
  if (view === 'bins') return <Bins {...shared} />;
  if (view === 'versions') return <Compare {...shared} />;
  return <Cuts projectId={projectId} tabs={tabs} onCompare={compare} />;
}
