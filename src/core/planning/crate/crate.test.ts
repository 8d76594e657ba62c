/** What a crate hands on: nothing in it leads out, and nothing tells where its house keeps things. */
import { describe, expect, it } from 'vitest';
import { cut, item, PAL, plain, shelf, snapshot, timeline } from '../../../../tests/helpers/snapshots';
import { handedOn } from '../../interchange/otio/handed-on';
import { isObject, schemaName, type Json, type OtioObject } from '../../interchange/otio/otio-types';
import { clipDocument, externalReference, sequenceReference, timelineDocument, timeRange, trackDocument } from '../../interchange/otio/otio-writer';
import type { WriteStep } from '../plan/step';
import { planCrate } from './crate';
import type { CrateSettings } from './settings';

const SETTINGS: CrateSettings = {
  timelineIds: ['t'],
  media: 'parts',
  headFrames: 0,
  tailFrames: 0,
  joinGapFrames: 0,
  countDisabled: false,
  destination: { shelfId: 'B', path: '' },
  crateName: 'Bronze Hour',
  note: '',
};

const OUT = 'file:///Volumes/FOUNDRY-A/rushes';
const range = timeRange(900_000, 1000, PAL);
const away = (name: string) => clipDocument(name, timeRange(900_000, 20, PAL), externalReference(`${OUT}/${name}`, name, range));

/** An event that its nest's window leaves out, one that is disabled, one with a second version and paths in metadata, one of frames. */
const document = (): OtioObject => {
  const nest = (children: OtioObject[]): OtioObject => ({
    OTIO_SCHEMA: 'Stack.1',
    name: 'nest',
    source_range: timeRange(0, 10, PAL),
    children: [trackDocument('V1', 'Video', children)],
    effects: [],
    markers: [],
    metadata: {},
    enabled: true,
  });
  const twice = cut('a.mov', 0, 10);
  const versions: OtioObject = {
    ...twice,
    metadata: {
      other: {
        'Source File': '/Volumes/FOUNDRY-A/rushes/a.mov',
        uncPath: '\\\\server\\bells\\a.mov',
        note: 'take 2/3, see http://example.org/a',
        where: '/retake/later',
      },
    },
    media_references: {
      DEFAULT_MEDIA: (twice.media_references as OtioObject).DEFAULT_MEDIA!,
      proxy: externalReference(`${OUT}/a_proxy.mov`, 'a', range),
    },
  };
  const frames = { folderUrl: `${OUT}/pour`, prefix: 'pour.', suffix: '.dpx', padding: 4, startNumber: 1, rate: PAL };
  const numbered = { ...clipDocument('pour', timeRange(0, 4, PAL), sequenceReference(frames, 'pour', timeRange(0, 4, PAL))), enabled: false };
  return timelineDocument('t', null, [
    trackDocument('V1', 'Video', [
      versions,
      { ...away('disabled.mov'), enabled: false },
      numbered,
      nest([cut('a.mov', 100, 10), away('outside the window.mov')]),
    ]),
  ]);
};

function crateOf(settings: Partial<CrateSettings> = {}) {
  const from = snapshot({ timelines: [document()], items: [item('a.mov')], shelves: [shelf('A'), shelf('B')] });
  const plan = planCrate(from, { ...SETTINGS, ...settings }, { crateId: 'c', madeAt: '2026-12-01', exists: false });
  const step = plan.steps.find((one): one is WriteStep => one.action === 'write' && one.content.type === 'timeline')!;
  return { plan, text: plain((step.content as { text: string }).text) };
}

function* links(node: Json): Generator<string> {
  if (Array.isArray(node)) for (const child of node) yield* links(child);
  else if (isObject(node)) {
    if (typeof node.target_url === 'string') yield node.target_url;
    if (typeof node.target_url_base === 'string') yield node.target_url_base;
    for (const child of Object.values(node)) yield* links(child);
  }
}

describe('a crate', () => {
  it('holds links that stay inside, and file names alone of what is not in it', () => {
    const { plan, text } = crateOf();
    const inside = new Set(
      plan.steps.flatMap(({ to, action }) => (action === 'trim' || action === 'copy' ? [to!.path.replace('Bronze Hour/data', '..')] : [])),
    );
    const all = [...links(JSON.parse(text) as Json)];
    expect(all.filter((link) => link.startsWith('../')).every((link) => inside.has(decodeURIComponent(link)))).toBe(true);
    expect(all.filter((link) => !link.startsWith('../'))).toEqual(['a_proxy.mov', 'disabled.mov', '', 'outside%20the%20window.mov']);
    expect(text).not.toMatch(/FOUNDRY|Volumes|server|file:/);
    const own = ((JSON.parse(text) as OtioObject).tracks as OtioObject).children as OtioObject[];
    const told = ((own[0]!.children as OtioObject[])[0]!.metadata as OtioObject).other;
    expect(told).toEqual({ 'Source File': 'a.mov', uncPath: 'a.mov', note: 'take 2/3, see http://example.org/a', where: '/retake/later' });
    const codes = plan.findings.map(({ code, message }) => [code, message] as const);
    expect(Object.fromEntries(codes)['crate-unlinked']).toContain('a_proxy.mov, disabled.mov, pour.….dpx and 1 more');
    expect(Object.fromEntries(codes)['crate-no-paths']).toContain('2 texts');
  });

  it('keeps the folders of its house where that is asked for', () => {
    const { plan, text } = crateOf({ keepPaths: true });
    expect(text).toContain(`${OUT}/disabled.mov`);
    expect(text).toContain('/Volumes/FOUNDRY-A/rushes/a.mov');
    expect(plan.findings.map(({ code }) => code)).not.toContain('crate-no-paths');
  });
});

it('what is handed on is the same but for its links and folders, and handing it on again changes nothing', () => {
  const first = handedOn(document(), () => false);
  const strip = (node: Json): Json =>
    Array.isArray(node)
      ? node.map(strip)
      : isObject(node)
        ? Object.fromEntries(
            Object.entries(node)
              .filter(([key]) => !['target_url', 'target_url_base', 'Source File', 'uncPath'].includes(key))
              .map(([key, value]) => [key, strip(value)]),
          )
        : node;
  expect(strip(first.document)).toEqual(strip(document()));
  expect(handedOn(first.document, () => false).document).toEqual(first.document);
  expect(schemaName(timeline('t', []))).toBe('Timeline');
});
