import { useAddressView } from '../shared/use-address';
import { ViewTabs } from '../shared/ViewTabs';
import { Exchange } from './Exchange';
import { FinishCheck } from './FinishCheck';
import { FoundProxies } from './FoundProxies';
import { Generations } from './Generations';
import { MakeProxies } from './MakeProxies';
import { RemoveProxies } from './RemoveProxies';
import { TakeAlong } from './TakeAlong';

const VIEWS = ['make', 'found', 'along', 'remove', 'exchange', 'generations', 'finish'] as const;
const NAMES = {
  make: 'Make',
  found: 'Made elsewhere',
  along: 'Take along',
  remove: 'Remove',
  exchange: 'Exchange',
  generations: 'Generations',
  finish: 'Finish check',
} as const;

/** What has a light copy, what is made here or was made elsewhere, and what goes again? */
export function Proxies({ projectId }: { projectId: string }) {
  const [view, setView] = useAddressView('view', VIEWS);
  const tabs = <ViewTabs label="What to do with proxies" names={NAMES} view={view} onChange={setView} />;
  if (view === 'found') return <FoundProxies projectId={projectId} tabs={tabs} />;
  if (view === 'along') return <TakeAlong projectId={projectId} tabs={tabs} onMake={() => setView('make')} />;
  if (view === 'remove') return <RemoveProxies projectId={projectId} tabs={tabs} />;
  if (view === 'exchange') return <Exchange projectId={projectId} tabs={tabs} />;
  if (view === 'generations') return <Generations projectId={projectId} tabs={tabs} />;
  if (view === 'finish') return <FinishCheck projectId={projectId} tabs={tabs} />;
  return <MakeProxies projectId={projectId} tabs={tabs} onAlong={() => setView('along')} />;
}
