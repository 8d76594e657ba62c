import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { formatBagInfo, formatManifest, payloadOxum, readBagInfo, readManifest, staysInside } from './bag';
import { crateReport } from '../../planning/crate/crate-report';

describe('a manifest', () => {
  it('is read back as it was, whatever the names', () => {
    const entry = fc.record({
      checksum: fc.string({ unit: fc.constantFrom(...'0123456789abcdef'), minLength: 64, maxLength: 64 }),
      path: fc.string({ minLength: 1, unit: 'grapheme' }).map((name) => `data/${name.trim() || 'x'}z`),
    });
    fc.assert(
      fc.property(fc.uniqueArray(entry, { selector: (one) => one.path, maxLength: 6 }), (entries) => {
        const back = readManifest(formatManifest(entries));
        expect(back.badLines).toEqual([]);
        expect(new Set(back.entries.map((one) => one.path))).toEqual(new Set(entries.map((one) => one.path)));
      }),
    );
  });

  it('encodes line breaks and percent signs only (RFC 8493, 2.1.3)', () => {
    expect(formatManifest([{ checksum: 'ab', path: 'data/50% a\nb é.mov' }])).toBe('ab  data/50%25 a%0Ab é.mov\n');
  });

  it('names the lines that are none', () => expect(readManifest('nonsense\n\n../x\n').badLines).toEqual([1, 3]));

  it.each(['/etc/passwd', '../up', 'data/../../up', '~/home', 'C:\\x', 'data\\..\\..\\x', ''])('%j does not stay inside', (path) =>
    expect(staysInside(path)).toBe(false),
  );
  it('data/Camera/Day 1/a..b.mov stays inside', () => expect(staysInside('data/Camera/Day 1/a..b.mov')).toBe(true));
});

it('bag-info is one line a value, and reads folded lines', () => {
  const text = formatBagInfo([
    ['External-Description', 'two\nlines'],
    ['Payload-Oxum', payloadOxum([{ bytes: 3 }, { bytes: 4 }])],
  ]);
  expect(text).toBe('External-Description: two lines\nPayload-Oxum: 7.2\n');
  const info = readBagInfo('Contact-Name: A\n  B\nX: y: z\n');
  expect([info.get('Contact-Name'), info.get('CONTACT-name'), info.get('x'), info.get('y')]).toEqual(['A B', 'A B', 'y: z', undefined]);
});

it('the report shows hostile names as text', () => {
  const label = {
    crateName: '<script>',
    projectName: '"&\'',
    rate: { num: 25, den: 1 },
    dropFrame: false,
    madeAt: '2026-11-24',
    timelineNames: ['<b>'],
    note: '',
  };
  const html = crateReport(label, [{ path: 'data/<img src=x>', bytes: 5, sha256: 'ab', how: 'x', from: 'y' }]);
  expect(html).not.toMatch(/<script|<img|<b>&lt;/);
  expect(html).toContain('&lt;script&gt;');
});
