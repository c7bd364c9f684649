import fc from 'fast-check';
import { framesOf, readFrames } from '@kiraku/server/journal/frames';

const texts = fc.array(fc.string({ unit: 'binary', maxLength: 60 }), { minLength: 1, maxLength: 12 });
const FIRST = 41;

const read = (bytes: Buffer, isWritten = true) => {
  const { frames, ...rest } = readFrames(bytes, isWritten);
  return { ...rest, entries: frames.map(({ sequence, payload }) => [sequence, payload.toString('utf8')]) };
};
const numbered = (all: string[]) => all.map((text, index) => [FIRST + index, text]);

test('what is put into frames is read again, with its sequence', () => {
  fc.assert(
    fc.property(texts, (all) => {
      const bytes = framesOf(all, FIRST);
      const wellFormed = all.map((text) => Buffer.from(text, 'utf8').toString('utf8'));
      expect(read(bytes)).toEqual({ entries: numbered(wellFormed), end: bytes.length, tornBytes: 0, damagedBytes: 0 });
    }),
  );
});

test('of what is torn off anywhere, the whole frames are read, and where they end is said', () => {
  fc.assert(
    fc.property(fc.array(fc.string({ maxLength: 60 }), { minLength: 1, maxLength: 12 }), fc.nat(), (all, at) => {
      const bytes = framesOf(all, FIRST);
      const ends = all.map((_, index) => framesOf(all.slice(0, index + 1), FIRST).length);
      const cut = at % (bytes.length + 1);
      const whole = ends.filter((end) => end <= cut).length;
      // What comes after is made ahead of its time, and blank.
      const written = Buffer.concat([bytes.subarray(0, cut), Buffer.alloc(200)]);
      const { tornBytes, ...rest } = read(written);
      expect(rest).toEqual({ entries: numbered(all.slice(0, whole)), end: ends[whole - 1] ?? 0, damagedBytes: 0 });
      expect(tornBytes).toBeLessThanOrEqual(cut - (ends[whole - 1] ?? 0));
      expect(tornBytes > 0).toBe(bytes.subarray(ends[whole - 1] ?? 0, cut).some((octet) => octet !== 0));
    }),
  );
});

test('a byte that is changed anywhere loses the frame it is in, and no other', () => {
  fc.assert(
    fc.property(
      fc.array(fc.string({ maxLength: 60 }), { minLength: 1, maxLength: 12 }),
      fc.nat(),
      fc.integer({ min: 1, max: 255 }),
      (all, at, change) => {
        const bytes = framesOf(all, FIRST);
        const ends = all.map((_, index) => framesOf(all.slice(0, index + 1), FIRST).length);
        const changed = at % bytes.length;
        bytes[changed] = bytes[changed]! ^ change;
        const lost = ends.findIndex((end) => changed < end);
        // While it is written, what comes after a gap may only be seen before what is in it.
        expect(read(bytes, false).entries).toEqual(numbered(all).slice(0, lost));
        const { entries, damagedBytes } = read(bytes);
        expect(entries).toEqual(numbered(all).filter((_, index) => index !== lost));
        const isLast = lost === all.length - 1;
        expect(damagedBytes).toBe(isLast ? 0 : ends[lost]! - (ends[lost - 1] ?? 0));
      },
    ),
  );
});
