import { Button } from '@mantine/core';
import { tellError } from './notices';
import { saveText } from './save-text';

interface Props {
  readonly projectId: string;
  readonly kind: string;
  readonly settings: unknown;
  /** What the file is called, without its ending. */
  readonly name: string;
  /** There is no plan to keep. */
  readonly disabled: boolean;
}

/** A plan as a page to print, or as a table: saved without running it. */
export function KeepPlan({ projectId, kind, settings, name, disabled }: Props) {
  return (
    <div className="controls">
      {(['html', 'csv'] as const).map((as) => (
        <Button
          key={as}
          size="xs"
          variant="default"
          flex={1}
          disabled={disabled}
          title="Saved without running it"
          onClick={() => void saveText('plans/keep', { projectId, kind, settings, as }, `${name}.${as}`).catch(tellError)}
        >
          {as === 'html' ? 'Keep as a page' : 'Keep as a table'}
        </Button>
      ))}
    </div>
  );
}
