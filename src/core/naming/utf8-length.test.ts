import fc from 'fast-check';
import { expect, it } from 'vitest';
import { foldPath } from './fold-path';
import { isAscii, utf8Length } from './utf8-length';

const signs = fc.string({ unit: fc.constantFrom('a', 'Z', '\u0000', '\u007f', '\u0080', 'é', 'ß', '߿', 'ࠀ', '鐘', '\uffff', '🔔', '\ud83d', '\udd14', 'ς', 'İ', 'K'), maxLength: 12 }); // prettier-ignore

it('counts the bytes that an encoder makes', () => {
  fc.assert(fc.property(signs, (text) => utf8Length(text) === new TextEncoder().encode(text).length));
});

it('plain text is folded as any text is', () => {
  fc.assert(
    fc.property(signs, (text) => {
      expect(isAscii(text)).toBe([...text].every((sign) => sign.codePointAt(0)! < 0x80));
      expect(foldPath(text)).toBe(text.normalize('NFC').toUpperCase().toLowerCase().normalize('NFC').replaceAll('ς', 'σ'));
    }),
  );
});
