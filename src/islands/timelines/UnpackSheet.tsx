import { CloseButton, TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import { fileName, type Place } from '../../core/media/item';
import { portableName } from '../../core/naming/safe-name';
import { Bytes, plural } from '../shared/figures';
import { Ask } from '../shared/Ask';
import { PlacePicker } from '../shared/PlacePicker';
import { PlanSheet } from '../shared/PlanSheet';
import { unpackForm } from '../../core/planning/unpack/settings';
import { usePlan } from '../shared/use-plan';

/** The plan sheet of a bundle: its media onto a shelf, its timeline into the project. */
export function UnpackSheet({ projectId, bundle, onClose }: { projectId: string; bundle: Place; onClose: () => void }) {
  const name = fileName(bundle.path);
  const [destination, setDestination] = useState<Place | null>(null);
  const [folderName, setFolderName] = useState(portableName(name.replace(/\.otioz$/i, '')));
  const settings = useMemo(() => ({ bundle, destination, folderName }), [bundle, destination, folderName]);
  const state = usePlan('unpack', projectId, settings, unpackForm);
  return (
    <PlanSheet
      state={state}
      idle="Reading the bundle …"
      runLabel={(plan) => (plan.blocked ? 'Run this plan' : `Unpack ${plural(plan.detail.files.length, 'file')} and bring in`)}
    >
      <div className="sheet-fields">
        <div className="side-by-side">
          <span className="soft grow">
            Where the media of <b>{name}</b> goes
          </span>
          <CloseButton size="sm" aria-label="Close" onClick={onClose} />
        </div>
        <PlacePicker label="Destination shelf" value={destination} onChange={setDestination} />
        <Ask plan={state.plan} code="no-destination" />
        <TextInput
          size="xs"
          aria-label="Name of the new folder"
          error={state.invalid.folderName}
          value={folderName}
          onChange={(event) => setFolderName(event.currentTarget.value)}
          classNames={{ input: 'mono-input' }}
        />
        <Ask plan={state.plan} code="no-folder-name" />
        {state.plan && (
          <div className="made-files">
            {state.plan.detail.files.map((file) => (
              <div key={file.path} title={file.path}>
                <span className="mono">{file.path}</span>
                <Bytes value={file.bytes} />
              </div>
            ))}
          </div>
        )}
      </div>
    </PlanSheet>
  );
}
