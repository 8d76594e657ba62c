/** Numbers that streams carry for their colours, with the words used for them here. Source: ISO/IEC 23091-2 (also ITU-T H.273), tables 2 to 4. */

export const PRIMARIES: Readonly<Record<number, string>> = {
  1: 'bt709',
  4: 'bt470m',
  5: 'bt470bg',
  6: 'smpte170m',
  7: 'smpte240m',
  8: 'film',
  9: 'bt2020',
  10: 'smpte428',
  11: 'smpte431',
  12: 'smpte432',
  22: 'ebu3213',
};

export const TRANSFERS: Readonly<Record<number, string>> = {
  1: 'bt709',
  4: 'bt470m',
  5: 'bt470bg',
  6: 'smpte170m',
  7: 'smpte240m',
  8: 'linear',
  9: 'log100',
  10: 'log316',
  11: 'iec61966-2-4',
  12: 'bt1361e',
  13: 'iec61966-2-1',
  14: 'bt2020-10',
  15: 'bt2020-12',
  16: 'smpte2084',
  17: 'smpte428',
  18: 'arib-std-b67',
};

export const MATRICES: Readonly<Record<number, string>> = {
  0: 'gbr',
  1: 'bt709',
  4: 'fcc',
  5: 'bt470bg',
  6: 'smpte170m',
  7: 'smpte240m',
  8: 'ycgco',
  9: 'bt2020nc',
  10: 'bt2020c',
  11: 'smpte2085',
  12: 'chroma-derived-nc',
  13: 'chroma-derived-c',
  14: 'ictcp',
};
