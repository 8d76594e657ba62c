import { undoForm, type UndoSettings } from '../../../core/planning/undo/settings';
import { defineKind } from '../kind';
import { markUndone } from './mark-undone';
import { undoPlan } from './undo-plan';
import type { UndoDetail } from '../../../core/planning/undo/undo';

export const undoKind = defineKind<UndoSettings, UndoDetail>()({
  form: undoForm,
  undoable: false,
  changes: { 'mark-undone': markUndone },
  // Also who was named to use the files.
  mustBeRead: (plan) => plan.findings,
  plan: (asked, settings) => Promise.resolve().then(() => undoPlan(asked, settings)),
});
