import { describe, expect, it } from 'vitest';
import { readAddress, relativeAddress, sameName } from './target-url';

describe('readAddress', () => {
  it.each([
    ['/Volumes/FOUNDRY-A/day 1/a.mov', true, null, ['Volumes', 'FOUNDRY-A', 'day 1', 'a.mov']],
    ['file:///Volumes/FOUNDRY-A/day%201/a.mov', true, null, ['Volumes', 'FOUNDRY-A', 'day 1', 'a.mov']],
    ['file://localhost/media/a.mov', true, null, ['media', 'a.mov']],
    ['media/50%25 slow.mov', false, null, ['media', '50% slow.mov']],
    ['media/100% done.mov', false, null, ['media', '100% done.mov']],
    ['../media/a.mov', false, null, ['..', 'media', 'a.mov']],
    ['D:\\rushes\\a.mov', true, 'D:', ['rushes', 'a.mov']],
    ['file:///D:/rushes/a%20b.mov', true, 'D:', ['rushes', 'a b.mov']],
    ['\\\\raid\\share\\a.mov', true, '\\\\raid', ['share', 'a.mov']],
    ['file://raid/share/a.mov', true, '\\\\raid', ['share', 'a.mov']],
  ])('%s', (url, absolute, volume, segments) => expect(readAddress(url)).toEqual({ absolute, volume, segments }));

  it('is null for what is no file', () => {
    expect(readAddress('https://elsewhere.invalid/a.mov')).toBeNull();
    expect(readAddress('  ')).toBeNull();
  });
});

describe('relativeAddress', () => {
  it.each([['50% slow #2?.mov'], ['säge ✂ 鐘.mov'], ['a b.mov']])('is read back as it was: %s', (name) => {
    expect(readAddress(relativeAddress(['..', 'media', name]))).toEqual({ absolute: false, volume: null, segments: ['..', 'media', name] });
  });
});

it('sameName sees composed and decomposed letters as one', () => expect(sameName('l\u00e4ute', 'la\u0308ute')).toBe(true));
