// The report embeds TrueType; the type's packages bring it wrapped as WOFF 1.0 (W3C Recommendation 2012, clause 5): unwrapped here.
import { copyFileSync, mkdirSync, readFileSync, writeFileSync } from 'node:fs';
import { inflateSync } from 'node:zlib';

const FONTS = [
  ['plex-sans', 'IBMPlexSans-Regular'],
  ['plex-sans', 'IBMPlexSans-SemiBold'],
  ['plex-sans-condensed', 'IBMPlexSansCondensed-Regular'],
  ['plex-sans-condensed', 'IBMPlexSansCondensed-SemiBold'],
  ['plex-mono', 'IBMPlexMono-Medium'],
  ['plex-mono', 'IBMPlexMono-SemiBold'],
];
const INTO = 'target/fonts';

/** The sfnt that a WOFF file holds: a table directory sorted by tag, then the tables, each from a multiple of 4. */
function unwrapped(woff) {
  if (woff.toString('latin1', 0, 4) !== 'wOFF') {
    throw new Error('is not WOFF 1.0');
  }
  const count = woff.readUInt16BE(12);
  const header = 12 + count * 16;
  const tables = Array.from({ length: count }, (_, i) => {
    const at = 44 + i * 20;
    const offset = woff.readUInt32BE(at + 4);
    const packed = woff.readUInt32BE(at + 8);
    const length = woff.readUInt32BE(at + 12);
    const bytes = woff.subarray(offset, offset + packed);
    return { tag: woff.subarray(at, at + 4), sum: woff.readUInt32BE(at + 16), bytes: packed < length ? inflateSync(bytes) : bytes, length };
  });
  const sfnt = Buffer.alloc(header + tables.reduce((sum, t) => sum + Math.ceil(t.length / 4) * 4, 0));
  woff.copy(sfnt, 0, 4, 8);
  const power = Math.floor(Math.log2(count));
  sfnt.writeUInt16BE(count, 4);
  sfnt.writeUInt16BE(16 * 2 ** power, 6);
  sfnt.writeUInt16BE(power, 8);
  sfnt.writeUInt16BE(count * 16 - 16 * 2 ** power, 10);
  let offset = header;
  tables.forEach((t, i) => {
    if (t.bytes.length !== t.length) {
      throw new Error(`table ${t.tag.toString()} has ${t.bytes.length} bytes, not ${t.length}`);
    }
    const at = 12 + i * 16;
    t.tag.copy(sfnt, at);
    sfnt.writeUInt32BE(t.sum, at + 4);
    sfnt.writeUInt32BE(offset, at + 8);
    sfnt.writeUInt32BE(t.length, at + 12);
    t.bytes.copy(sfnt, offset);
    offset += Math.ceil(t.length / 4) * 4;
  });
  return sfnt;
}

mkdirSync(INTO, { recursive: true });
copyFileSync('node_modules/@ibm/plex-sans/fonts/complete/woff/license.txt', `${INTO}/license.txt`);
for (const [pack, name] of FONTS) {
  const file = `node_modules/@ibm/${pack}/fonts/complete/woff/${name}.woff`;
  try {
    writeFileSync(`${INTO}/${name}.ttf`, unwrapped(readFileSync(file)));
  } catch (e) {
    throw new Error(`${file}: ${e.message}`);
  }
}
