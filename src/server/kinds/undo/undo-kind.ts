import { undoForm, type UndoSettings } from '../../../core/planning/undo/settings';
import type { Kind } from '../kind';
import { markUndone } from './mark-undone';
import { undoPlan } from './undo-plan';

export const undoKind: Kind<UndoSettings> = {
  form: undoForm,
  undoable: false,
  changes: { 'mark-undone': markUndone },
  // Also who was named to use the files.
  mustBeRead: (plan) => plan.findings,
  plan: (asked, settings) => Promise.resolve().then(() => undoPlan(asked, settings)),
};
