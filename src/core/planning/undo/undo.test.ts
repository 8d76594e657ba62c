/** What an undo removes, puts back and asks before: from a journal alone. */
import { describe, expect, it } from 'vitest';
import { linkStep, type MoveStep } from '../plan/step';
import { planUndo, type AffectedProject, type DoneRun, type MadeFile } from './undo';

const place = (path: string) => ({ shelfId: 'A', path });
const made = (path: string, own: Partial<MadeFile> = {}): MadeFile => ({
  place: place(path),
  bytes: 10,
  sha256: path,
  identity: null,
  copyOf: { listed: place(path), source: place(`from/${path}`), sourcePrint: null },
  isLast: false,
  ...own,
});
const run = (own: Partial<DoneRun> = {}): DoneRun => ({
  id: 7,
  title: 'Pull Reel 1',
  projectId: 'p',
  made: [],
  wasThere: 0,
  folders: 0,
  steps: [],
  back: [],
  houses: [],
  stoodOnBy: [],
  ...own,
});
const nobody = () => ({ renditions: [], losing: [] });
const undo = (own: Partial<DoneRun>, affected: readonly AffectedProject[] = [], confirmed = false) => planUndo(run(own), affected, nobody, confirmed);
const move = (path: string, phase: number): MoveStep => ({
  action: 'move', phase, from: place(`new/${path}`), to: place(path), expectedBytes: 5, bytesExact: true, reason: 'back', mustHold: null, across: false, originalBefore: null, originalAfter: null,
}); // prettier-ignore

describe('the steps of an undo', () => {
  it('put the catalogue back first, newest last change first, then remove what was made, then mark the run, then what comes at last', () => {
    const back = [{ type: 'a' }, { type: 'b' }, { type: 'c', last: true }];
    const { steps } = undo({ made: [made('one.mov')], back });
    expect(steps.map((step) => [step.phase, step.action === 'link' ? step.change.type : step.action])).toEqual([
      [0, 'b'],
      [0, 'a'],
      [1, 'remove'],
      [2, 'mark-undone'],
      [3, 'c'],
    ]);
    expect(steps[2]).toMatchObject({ from: place('one.mov'), sha256: 'one.mov', copyOf: { isLastKnown: false } });
  });

  it('mark the run only after the last phase of what is taken back', () => {
    const { steps, lines } = undo({ steps: [move('a.mov', 1), move('b.mov', 4)] });
    expect(steps.map(({ phase }) => phase)).toEqual([1, 4, 5]);
    expect(lines.map(({ label }) => label)).not.toContain('Originals');
    expect(lines.find(({ label }) => label === 'Moved back')).toMatchObject({ files: 2, bytes: 10 });
  });
});

describe('before anything goes', () => {
  it.each([
    ['nothing was left', {}, [], 'This run left nothing to take back.'],
    ['it is the last copy', { made: [made('a.mov', { isLast: true })] }, [], 'Read which files have no other copy, then tick the box.'],
    ['others read it', { made: [made('a.mov')] }, [{ project: 'Bell', clips: 2, lost: [] }], 'Read who uses these files, then tick the box.'],
    ['another house reads there', { made: [made('a.mov')], houses: [{ name: 'EDIT-2', at: '2026-12-01T00:00:00Z' }] }, [], 'Read who uses these files, then tick the box.'], // prettier-ignore
    ['a later run stands on it', { made: [made('a.mov')], stoodOnBy: [{ id: 9, title: 'Sort', files: 1 }] }, [], 'Undo run 9, Sort, first: it moved 1 file of this run on.'], // prettier-ignore
    ['a crate was handed over', { made: [made('a.mov')], kept: { code: 'crate-accepted', message: 'Handed over.', hint: '' } }, [], 'Handed over.'],
  ] as [string, Partial<DoneRun>, AffectedProject[], string][])('%s: it waits for a word', (_, own, affected, blocked) => {
    const plan = undo(own, affected);
    expect([plan.blocked, plan.steps]).toEqual([blocked, []]);
  });

  it('a word given lets it run, and says once more what is lost; frames of one sequence are one', () => {
    const frame = (name: string) => made(`f/${name}`, { isLast: true, copyOf: { listed: place('f/a.[1-2].dpx'), source: null, sourcePrint: null } });
    const plan = undo({ made: [frame('a.1.dpx'), frame('a.2.dpx')] }, [{ project: 'Bell', clips: 1, lost: ['Ladle'] }], true);
    expect(plan.blocked).toBeNull();
    expect(plan.detail).toMatchObject({ last: 1 });
    expect(plan.findings.map(({ code }) => code)).toEqual(['undo-last', 'undo-used', 'undo-removes', 'undo-unchanged-only']);
    expect(plan.steps.filter(({ action }) => action === 'remove')).toHaveLength(2);
  });

  it('a run that stands on it is not got past by a word', () => {
    const later = { made: [made('a.mov')], stoodOnBy: [{ id: 9, title: 'Sort', files: 0 }] };
    expect(undo(later, [], true).blocked).toContain('exchanged a timeline of this run');
  });

  it('a change of the catalogue is a step of its own', () => expect(linkStep(0, 'as it was', { type: 'x' }).action).toBe('link'));
});
