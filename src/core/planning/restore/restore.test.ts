/** Opening a crate: what its manifest vouches for comes in, and what is wrong is told. */
import { describe, expect, it } from 'vitest';
import type { CrateContent } from '../package/crate-content';
import { planRestore, type OpenCrate } from './restore';

const timeline = { name: 'Reel 1', path: 'data/timelines/Reel 1.otio', sha256: 't1', text: '{}', folder: 'timelines' };
const crate = (own: Partial<CrateContent> = {}): CrateContent => ({
  root: { shelfId: 'A', path: 'Sealed' },
  name: 'Sealed',
  projectName: 'Bronze Hour',
  rate: { num: 25, den: 1 },
  dropFrame: false,
  entries: [
    { checksum: 'm1', path: 'data/media/a.mov' },
    { checksum: 't1', path: timeline.path },
  ],
  sizes: new Map([
    ['data/media/a.mov', 100],
    [timeline.path, 2],
    ['bagit.txt', 9],
  ]),
  timelines: [timeline],
  badLines: [],
  oxum: { bytes: 102, files: 2 },
  tags: null,
  tagSums: new Map(),
  ...own,
});
const plan = (own: Partial<CrateContent> = {}) => planRestore(crate(own), 'new', 'Bronze Hour');
const opened = (own: Partial<CrateContent> = {}) => {
  const last = plan(own).steps.at(-1)!;
  return last.action === 'link' ? (last.change as OpenCrate) : null;
};

describe('a crate', () => {
  it('that is whole is read file by file, then becomes a project', () => {
    const { steps, blocked, headline, lines } = plan();
    expect([blocked, headline.value, headline.of]).toEqual([null, 2, 2]);
    expect(steps.map((step) => [step.phase, step.action, step.from?.path ?? null])).toEqual([
      [0, 'check', 'Sealed/data/media/a.mov'],
      [0, 'check', `Sealed/${timeline.path}`],
      [1, 'link', null],
    ]);
    expect(opened()).toMatchObject({ projectId: 'new', base: { path: 'Sealed/data' }, timelines: [{ name: 'Reel 1' }] });
    expect(opened()!.trouble).toBeUndefined();
    expect(lines.find(({ label }) => label === 'Files moved or written')).toMatchObject({ text: 'none' });
  });

  it('brings in no timeline that its manifest does not vouch for, and says so', () => {
    const altered = { timelines: [{ ...timeline, sha256: 'other' }] };
    expect(plan(altered).blocked).not.toBeNull();
    expect(plan(altered).steps).toEqual([]);
  });

  it('with a file missing opens with what is there; the project remembers what was wrong', () => {
    const sizes = new Map([[timeline.path, 2]]);
    expect(plan({ sizes }).lines.find(({ label }) => label === 'Missing')).toMatchObject({ files: 1 });
    expect(plan({ sizes }).detail.files).toContainEqual({ path: 'data/media/a.mov', bytes: null });
    expect(opened({ sizes })!.trouble!.length).toBeGreaterThan(0);
  });

  it('with a file that no list names says so', () => {
    const sizes = new Map([...crate().sizes, ['data/media/extra.mov', 5]]);
    expect(plan({ sizes }).findings.some(({ message }) => message.includes('extra.mov'))).toBe(true);
  });
});
