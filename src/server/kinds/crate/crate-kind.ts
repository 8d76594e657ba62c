import { createHash } from 'node:crypto';
import { below, type Place } from '../../../core/media/item';
import { portableName } from '../../../core/naming/safe-name';
import { planCrate } from '../../../core/planning/crate/crate';
import { crateForm, type CrateSettings } from '../../../core/planning/crate/settings';
import type { CrateRow } from '../../catalogue/crates';
import { defineKind } from '../kind';
import { projectSnapshot } from '../project-snapshot';
import { stands } from '../standing';
import { takenCounts, takenRows } from '../taken-window';
import { crateTexts } from './crate-texts';
import { enterCopies, forgetCrate, recordCrate } from './record-crate';
import type { TakenDetail } from '../../../core/planning/taking/taken';

export const crateKind = defineKind<CrateSettings, TakenDetail>()({
  form: crateForm,
  undoable: true,
  rows: takenRows,
  toTell: takenCounts,
  changes: { 'enter-copies': enterCopies, 'record-crate': recordCrate, 'forget-crate': forgetCrate },
  texts: crateTexts,
  async plan(asked, settings) {
    const snapshot = await projectSnapshot(asked, settings.timelineIds);
    const { destination, crateName } = settings;
    const place = destination && crateName.trim() !== '' ? below(destination, portableName(crateName)) : null;
    return planCrate(snapshot, settings, {
      crateId: crateIdOf(snapshot.project.id, crateName, place),
      madeAt: new Date().toISOString().slice(0, 10),
      exists: place !== null && stands(asked.mounts, place),
      keepText: asked.keepText,
      decoded: asked.catalogue.decoded.of(snapshot.items.flatMap(({ content }) => content ?? [])),
      ...followsOf(asked.catalogue.crates.ofProject(snapshot.project.id), crateName),
    });
  },
});

function crateIdOf(projectId: string, name: string, place: Place | null): string {
  return createHash('sha256')
    .update(JSON.stringify([projectId, name, place]))
    .digest('hex')
    .slice(0, 32);
}

/** The newest one of another name. */
function followsOf(made: readonly CrateRow[], crateName: string): { follows?: string } {
  const before = made.find(({ name }) => name !== crateName.trim());
  return before ? { follows: before.name } : {};
}
