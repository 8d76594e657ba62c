import { describe, expect, it } from 'vitest';
import { cut, item, PAL, plain, shelf, snapshot, timeline, VIDEO } from '../../../../tests/helpers/snapshots';
import { isObject, type Json, type OtioObject } from '../../interchange/otio/otio-types';
import { clipDocument, externalReference, sequenceReference, timeRange, timeWarp, transitionDocument } from '../../interchange/otio/otio-writer';
import type { Item } from '../../media/item';
import { planExport } from './export';
import type { ExportContext } from './exporting';
import type { ExportFormat, ExportSettings } from './settings';
import type { Snapshot } from '../plan/snapshot';
import type { WriteStep } from '../plan/step';
import { planUnpack, type BundleContent } from '../unpack/unpack';

const CONTEXT: ExportContext = { taken: [], addresses: new Map([['A', 'file:///media/SHELF-A'], ['B', 'file:///media/SHELF-B']]) }; // prettier-ignore
const settings = (format: ExportFormat, own: Partial<ExportSettings> = {}): ExportSettings => ({
  timelineIds: ['Cut'],
  format,
  destination: { shelfId: 'B', path: 'Out' },
  folderName: 'new',
  ...own,
});
const plan = (from: Snapshot, format: ExportFormat, own: Partial<ExportSettings> = {}, context = CONTEXT) =>
  planExport(from, settings(format, own), context);

/** Every reference of a document, in order. */
function references(node: Json): OtioObject[] {
  if (Array.isArray(node)) return node.flatMap(references);
  if (!isObject(node)) return [];
  if (isObject(node.media_references)) return Object.values(node.media_references).filter(isObject);
  return Object.values(node).flatMap(references);
}
const textOf = (step: unknown) => {
  const { content } = step as WriteStep;
  if (content.type === 'text' || content.type === 'timeline') return plain(content.text);
  if (content.type !== 'zip') throw new Error('no text');
  const entry = content.entries.find((one) => one.path === 'content.otio');
  return entry && 'text' in entry ? plain(entry.text) : '';
};
const referencesIn = (step: unknown) => references(JSON.parse(textOf(step)) as Json);

const present = snapshot({
  timelines: [timeline('Cut', [cut('Day 1/a.mov', 0, 10), cut('b.mov', 5, 10), cut('gone.mov', 0, 5)])],
  items: [item('Day 1/a.mov'), item('b.mov')],
});

describe('export as OTIO', () => {
  it('links relatively on the destination’s own shelf, wholly to others; what is offline keeps its link and is told', () => {
    const urls = (own: Partial<ExportSettings>) => referencesIn(plan(present, 'otio', own).steps[0]).map((reference) => reference.target_url);
    expect(urls({})).toEqual(['file:///media/SHELF-A/Day%201/a.mov', 'file:///media/SHELF-A/b.mov', 'gone.mov']);
    expect(urls({ destination: { shelfId: 'A', path: 'Day 1' }, folderName: 'cuts' })).toEqual(['../a.mov', '../../b.mov', 'gone.mov']);
    expect(plan(present, 'otio').findings.map((finding) => [finding.code, finding.message])).toEqual([['media-offline', 'gone.mov is offline.']]);
  });

  it('changes nothing but the active references', () => {
    const event: OtioObject = { ...cut('b.mov', 0, 10), metadata: { own: { deep: [1, 'x'] } }, markers: [{ OTIO_SCHEMA: 'Marker.99', odd: true }] };
    event.media_references = { DEFAULT_MEDIA: (event.media_references as OtioObject).DEFAULT_MEDIA!, proxy: externalReference('p.mov', 'p', null) };
    const from = snapshot({ timelines: [timeline('Cut', [event])], items: [item('b.mov')] });
    const document = JSON.parse(textOf(plan(from, 'otio').steps[0])) as { tracks: { children: { children: OtioObject[] }[] } };
    const written = document.tracks.children[0]!.children[0]!;
    const { media_references: _theirs, ...rest } = written;
    const { media_references: _ours, ...before } = event;
    expect(rest).toEqual(before);
    expect(references(written).map((reference) => reference.target_url)).toEqual(['file:///media/SHELF-A/b.mov', 'p.mov']);
  });

  it('takes free names, and writes each timeline once', () => {
    const both = snapshot({ timelines: [timeline('Cut', [cut('b.mov', 0, 10)]), timeline('cut', [cut('b.mov', 3, 10)])], items: [item('b.mov')] });
    const paths = plan(both, 'otio', { timelineIds: ['Cut', 'cut'] }, { ...CONTEXT, taken: ['Cut.otio'] }).detail.rows.map((row) => row.path);
    expect(paths).toEqual(['Cut_2.otio', 'cut_3.otio']);
  });

  it('says what stands in the way', () => {
    const full = { ...present, shelves: [shelf('A'), shelf('B', { freeBytes: 10 })] };
    expect(plan(full, 'otioz').blocked).toContain('too little room');
    expect(plan({ ...present, shelves: [shelf('A'), shelf('B', { attached: false })] }, 'otio').blocked).toBe('SHELF-B is not plugged in.');
    expect(plan(present, 'otio', { timelineIds: [] })).toMatchObject({ blocked: 'No timeline is chosen.', steps: [] });
  });
});

describe('export as a bundle', () => {
  const frames = { prefix: 'pour.', suffix: '.dpx', padding: 4, firstNumber: 1001, lastNumber: 1004, missingRuns: [[1003, 1003]] as const };
  const sequence = item('seq/pour.[1001-1004].dpx', { kind: 'sequence', rate: null, durationFrames: 4, startFrame: null, sequence: frames });
  const parts = { folderUrl: 'seq/', prefix: 'pour.', suffix: '.dpx', padding: 4, startNumber: 1001, rate: PAL };
  const withFrames = clipDocument('pour', timeRange(0, 4, PAL), sequenceReference(parts, 'pour', timeRange(0, 4, PAL)));
  const from = snapshot({
    timelines: [timeline('Cut', [cut('x/a.mov', 0, 10), cut('y/a.mov', 0, 10), cut('x/a.mov', 20, 10), cut('gone.mov', 0, 5)])],
    items: [item('x/a.mov'), item('y/a.mov')],
  });

  it('holds every file once, under names of its own, and the offline as missing with the names of their files', () => {
    const { steps, detail } = plan(from, 'otioz');
    const { entries } = (steps[0] as WriteStep).content as Extract<WriteStep['content'], { type: 'zip' }>;
    expect(entries.map((entry) => entry.path)).toEqual(['content.otio', 'version.txt', 'media/a.mov', 'media/a_2.mov']);
    expect(referencesIn(steps[0]).map((reference) => [reference.OTIO_SCHEMA, reference.target_url ?? reference.name])).toEqual([
      ['ExternalReference.1', 'media/a.mov'],
      ['ExternalReference.1', 'media/a_2.mov'],
      ['ExternalReference.1', 'media/a.mov'],
      ['MissingReference.1', 'gone.mov'],
    ]);
    expect(detail.rows).toMatchObject([{ path: 'Cut.otioz', mediaFiles: 2, events: 4 }]);
  });

  it('as a folder is made of copies and texts', () => {
    expect(plan(from, 'otiod').steps.map((step) => [step.action, step.to!.path])).toEqual([
      ['copy', 'Out/new/Cut.otiod/media/a.mov'],
      ['copy', 'Out/new/Cut.otiod/media/a_2.mov'],
      ['write', 'Out/new/Cut.otiod/version.txt'],
      ['write', 'Out/new/Cut.otiod/content.otio'],
    ]);
  });

  /** One event whose clip is linked to `to`, whatever its reference names. */
  const relinked = (event: OtioObject, to: Item) => {
    const base = snapshot({ timelines: [timeline('Cut', [event])], items: [] });
    const clip = base.clips[0]!;
    const link = clip.renditions[0]!.links[0]!;
    const own = { ...link, place: to.place, expected: { ...link.expected, fingerprint: to.fingerprint } };
    return { ...base, items: [to], clips: [{ ...clip, renditions: [{ id: 'r', kind: 'source' as const, links: [own] }] }] };
  };
  const renamed = item('new/ring_v2.[0101-0110].dpx', {
    kind: 'sequence',
    rate: null,
    durationFrames: 10,
    startFrame: null,
    sequence: { prefix: 'ring_v2.', suffix: '.dpx', padding: 4, firstNumber: 101, lastNumber: 110, missingRuns: [] },
  });

  it.each(['otio', 'otioz'] as const)('a sequence that was relinked under a new name is named so (%s)', (format) => {
    const [reference] = referencesIn(plan(relinked(withFrames, renamed), format).steps[0]);
    expect(reference).toMatchObject({ name_prefix: 'ring_v2.', name_suffix: '.dpx', frame_zero_padding: 4, start_frame: 101 });
  });

  it.each(['otio', 'otioz'] as const)('a plain reference to a sequence becomes one of frames that exist (%s)', (format) => {
    const bare = clipDocument('ring', timeRange(0, 4, PAL), externalReference('ring.dpx', 'ring', null));
    const [reference] = referencesIn(plan(relinked(bare, renamed), format).steps[0]);
    expect(reference).toMatchObject({ OTIO_SCHEMA: 'ImageSequenceReference.1', name_prefix: 'ring_v2.', start_frame: 101 });
  });

  it('what a new reference does not speak of stays as it was', () => {
    const bounds = { OTIO_SCHEMA: 'Box2d.1', min: { OTIO_SCHEMA: 'V2d.1', x: 0, y: 0 }, max: { OTIO_SCHEMA: 'V2d.1', x: 16, y: 9 } };
    const own = { ...externalReference('x/a.mov', 'a', timeRange(900_000, 1000, PAL)), available_image_bounds: bounds, graded_by: 'the foundry' };
    const held = { ...sequenceReference(parts, 'pour', timeRange(0, 4, PAL)), missing_frame_policy: 'hold' };
    const a = plan(relinked(clipDocument('a', timeRange(900_000, 5, PAL), own), item('y/b.mov')), 'otio');
    expect(referencesIn(a.steps[0])[0]).toMatchObject({ available_image_bounds: bounds, graded_by: 'the foundry' });
    const b = plan(relinked(clipDocument('p', timeRange(0, 4, PAL), held), renamed), 'otio');
    expect(referencesIn(b.steps[0])[0]).toMatchObject({ missing_frame_policy: 'hold' });
  });

  it('takes the frames of a sequence that are there, in a folder of their own', () => {
    const base = snapshot({ timelines: [timeline('Cut', [withFrames])], items: [] });
    const [clip] = base.clips;
    const link = { ...clip!.renditions[0]!.links[0]!, place: sequence.place };
    const linked = { ...base, items: [sequence], clips: [{ ...clip!, renditions: [{ id: 'r', kind: 'source' as const, links: [{ ...link, expected: { ...link.expected, fingerprint: sequence.fingerprint } }] }] }] }; // prettier-ignore
    const { entries } = (plan(linked, 'otioz').steps[0] as WriteStep).content as Extract<WriteStep['content'], { type: 'zip' }>;
    expect(entries.slice(2).map((entry) => entry.path)).toEqual(['media/pour/pour.1001.dpx', 'media/pour/pour.1002.dpx', 'media/pour/pour.1004.dpx']);
    expect(referencesIn(plan(linked, 'otioz').steps[0])[0]).toMatchObject({ target_url_base: 'media/pour/', start_frame: 1001 });
    expect(plan(linked, 'otiod').steps[0]).toMatchObject({ action: 'frames', names: ['pour.1001.dpx', 'pour.1002.dpx', 'pour.1004.dpx'] });
  });
});

describe('export as lists', () => {
  it('gives the file’s timecode where the edit counts from 0, and the reel it carries', () => {
    const from = snapshot({ timelines: [timeline('Cut', [cut('b.mov', 5, 10, 0)])], items: [item('b.mov')] });
    expect(textOf(plan(from, 'edl').steps[0])).toContain('001  A001     V     C        10:00:00:05 10:00:00:15');
  });

  it('a clip list tells what it leaves out', () => {
    const rich = timeline('Cut', [
      cut('b.mov', 0, 10),
      transitionDocument(2, 2, PAL),
      { ...cut('b.mov', 20, 10), effects: [timeWarp(2)], enabled: false },
    ]);
    const { findings, steps } = plan(snapshot({ timelines: [rich], items: [item('b.mov')] }), 'csv');
    expect(findings.map((finding) => finding.message)).toEqual([
      'A clip list holds points of sources, not the edit. Not in it: 1 transition, 1 retime, 1 switched-off event.',
    ]);
    expect(textOf(steps[0]).trimEnd().split('\r\n')).toHaveLength(3);
  });
});

describe('unpacking a bundle', () => {
  const bundle = (own: Partial<BundleContent> = {}): BundleContent => ({
    content: '{}',
    files: [
      { path: 'content.otio', bytes: 2 },
      { path: 'media/', bytes: 0 },
      { path: 'media/a.mov', bytes: 500 },
    ],
    sizeBytes: 900,
    modifiedMs: 1,
    identity: { sizeBytes: 900, modifiedNs: '1000000', changedNs: '1', inode: '7', bornNs: '1' },
    taken: [],
    ...own,
  });
  const unpack = (content: BundleContent, folderName = 'in') =>
    planUnpack(present, { bundle: { shelfId: 'A', path: 'x.otioz' }, destination: { shelfId: 'B', path: '' }, folderName }, content);

  it('copies its media, then brings the timeline in from that folder', () => {
    expect(unpack(bundle()).steps).toMatchObject([
      { action: 'copy', entry: 'media/a.mov', to: { shelfId: 'B', path: 'in/media/a.mov' }, expectedBytes: 500, mustHold: { sizeBytes: 900 } },
      { action: 'link', phase: 1, change: { type: 'adopt', base: { shelfId: 'B', path: 'in' } } },
    ]);
  });

  it('is refused when it leads out, clashes, or is none', () => {
    const files = (path: string) => [...bundle().files, { path, bytes: 1 }];
    for (const path of ['media/../x', 'media/./x', 'media//x', 'media/a\\b', 'media/C:x\u0001'])
      expect(unpack(bundle({ files: files(path) })).blocked, path).toContain('lead out');
    expect(unpack(bundle({ taken: ['media/A.MOV'] })).blocked).toContain('stands there already');
    expect(unpack(bundle({ files: files('media/A.mov') })).blocked).toContain('twice in the bundle');
    expect(unpack(bundle({ content: null })).blocked).toContain('no OTIO bundle');
    expect(unpack(bundle(), ' ').blocked).toContain('no name');
    expect(unpack(bundle({ files: files('notes/readme.txt') })).findings[0]).toMatchObject({ code: 'bundle-extra', severity: 'warns' });
  });
});

it('a still of the timeline is exported with its reference', () => {
  const still = snapshot({
    timelines: [timeline('Cut', [cut('s.png', 0, 10, 0)])],
    items: [item('s.png', { ...VIDEO, kind: 'still', rate: null, durationFrames: null, startFrame: null })],
  });
  expect(referencesIn(plan(still, 'otio').steps[0])[0]!.target_url).toBe('file:///media/SHELF-A/s.png');
});
