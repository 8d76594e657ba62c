import { SegmentedControl } from '@mantine/core';
import { useAddressView } from '../shared/use-address';
import { MadeCrates } from './MadeCrates';
import { MakeCrate } from './MakeCrate';
import { OpenCrate } from './OpenCrate';

const VIEWS = ['make', 'made', 'open'] as const;
export type CrateView = (typeof VIEWS)[number];

export function CrateTabs({ view, onChange }: { view: CrateView; onChange: (view: CrateView) => void }) {
  return (
    <SegmentedControl
      size="xs"
      aria-label="What to do with crates"
      data={[
        { value: 'make', label: 'Make a crate' },
        { value: 'made', label: 'Crates made' },
        { value: 'open', label: 'Open a crate' },
      ]}
      value={view}
      onChange={(value) => onChange(value as CrateView)}
    />
  );
}

/** One verified package for a colleague, a laptop, an archive; open it again elsewhere. */
export function Crates({ projectId }: { projectId: string }) {
  const [view, setView] = useAddressView('view', VIEWS);
  const tabs = <CrateTabs view={view} onChange={setView} />;
  if (view === 'open') return <OpenCrate projectId={projectId} tabs={tabs} />;
  if (view === 'made') return <MadeCrates projectId={projectId} tabs={tabs} />;
  return <MakeCrate projectId={projectId} tabs={tabs} />;
}
