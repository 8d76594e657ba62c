import { useAddressView } from '../shared/use-address';
import { ViewTabs } from '../shared/ViewTabs';
import { DecodeMedia } from './DecodeMedia';
import { MadeCrates } from './MadeCrates';
import { MakeCrate } from './MakeCrate';
import { OpenCrate } from './OpenCrate';

const VIEWS = ['make', 'made', 'open', 'decode'] as const;
const NAMES = { make: 'Make a crate', made: 'Crates made', open: 'Open a crate', decode: 'Decode media' } as const;

/** One verified package for a colleague, a laptop, an archive; open it again elsewhere. */
export function Crates({ projectId }: { projectId: string }) {
  const [view, setView] = useAddressView('view', VIEWS);
  const tabs = <ViewTabs label="What to do with crates" names={NAMES} view={view} onChange={setView} />;
  if (view === 'decode') return <DecodeMedia projectId={projectId} tabs={tabs} />;
  if (view === 'open') return <OpenCrate projectId={projectId} tabs={tabs} />;
  if (view === 'made') return <MadeCrates projectId={projectId} tabs={tabs} />;
  return <MakeCrate projectId={projectId} tabs={tabs} />;
}
