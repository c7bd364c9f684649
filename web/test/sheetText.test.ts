import { sheetText } from '../src/shared/sheetText.js';

const TEXT = 'Name;Firma\nÅsa Ängström;Café Zürich';
const bytesOf = (...bytes: number[]) => new Uint8Array(bytes).buffer;
const utf16 = (text: string, isLittle: boolean) =>
  [...text].flatMap((char) => {
    const [high, low] = [char.charCodeAt(0) >> 8, char.charCodeAt(0) & 0xff];
    return isLittle ? [low, high] : [high, low];
  });

test('a sheet is read in whichever of the usual encodings a spreadsheet wrote it', () => {
  const utf8 = [...new TextEncoder().encode(TEXT)];
  expect(sheetText(bytesOf(...utf8))).toBe(TEXT);
  expect(sheetText(bytesOf(0xef, 0xbb, 0xbf, ...utf8))).toBe(TEXT);
  expect(sheetText(bytesOf(0xff, 0xfe, ...utf16(TEXT, true)))).toBe(TEXT);
  expect(sheetText(bytesOf(0xfe, 0xff, ...utf16(TEXT, false)))).toBe(TEXT);
  expect(sheetText(bytesOf(...Buffer.from(TEXT, 'latin1')))).toBe(TEXT);
  expect(sheetText(bytesOf())).toBe('');
});
