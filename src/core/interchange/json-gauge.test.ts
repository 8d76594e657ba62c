import fc from 'fast-check';
import { expect, it } from 'vitest';
import { gaugeOf, JsonGauge } from './json-gauge';

/** Objects and lists within each other, counted on what the parser makes of them. */
const depthOf = (node: unknown): number => (typeof node === 'object' && node !== null ? 1 + Math.max(0, ...Object.values(node).map(depthOf)) : 0);
const anyJson = fc.json({ maxDepth: 6, stringUnit: fc.constantFrom('"', '\\', '[', '}', 'é', '鐘', '🔔', '1', 'e', ' ') });

it('finds the depth that the parser finds, in pieces of any size, indented or not', () => {
  fc.assert(
    fc.property(anyJson, fc.nat(4), fc.integer({ min: 1, max: 9 }), (json, indent, piece) => {
      const text = JSON.stringify(JSON.parse(json), null, indent * 4);
      const depth = depthOf(JSON.parse(json));
      expect(gaugeOf(text, depth).isTooDeep).toBe(false);
      const bytes = new TextEncoder().encode(text);
      const gauge = new JsonGauge(depth - 1);
      let isTooDeep = false;
      for (let from = 0; from < bytes.length && !isTooDeep; from += piece) isTooDeep = gauge.isTooDeepAfter(bytes.subarray(from, from + piece));
      expect(isTooDeep).toBe(depth > 0);
      if (depth > 0) expect(gaugeOf(text, depth - 1).isTooDeep).toBe(true);
    }),
  );
});

it.each([
  ['{"a": 12345678901234567890}', true],
  ['[-1234567890123456]', true],
  ['[1e400]', true],
  ['[1.5E+999]', true],
  [`[${'9'.repeat(320)}.5]`, true],
  ['["12345678901234567890", "1e999", "\\"", 7]', false],
  ['[0.12345678901234567, 123456789012345, 1e22, 1e-300, true, false]', false],
])('sees whether %s holds a number that may not fit', (text, has) => {
  expect(gaugeOf(text, 9).gauge.hasBigNumber).toBe(has);
  const whole = new TextEncoder().encode(text);
  const gauge = new JsonGauge(9);
  whole.forEach((sign) => gauge.isTooDeepAfter(Uint8Array.of(sign)));
  expect(gauge.hasBigNumber).toBe(has);
});

it('sees a backslash in a text wherever it stands, and none elsewhere', () => {
  for (const text of ['["\\ud800"]', '["a\\\\"]', '["longer than a word \\n"]']) {
    expect(gaugeOf(text, 9).gauge.hasEscape).toBe(true);
    const whole = new TextEncoder().encode(text);
    const gauge = new JsonGauge(9);
    whole.forEach((sign) => gauge.isTooDeepAfter(Uint8Array.of(sign)));
    expect(gauge.hasEscape).toBe(true);
  }
  expect(gaugeOf('["plain / text", 1.5e9]', 9).gauge.hasEscape).toBe(false);
});
