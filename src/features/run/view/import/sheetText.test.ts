import { strToU8, zipSync } from 'fflate';
import { describe, expect, it } from 'vitest';
import { readOds } from './readOds';
import { sheetTexts } from './sheetText';

const NAMES =
  'xmlns:office="urn:oasis:names:tc:opendocument:xmlns:office:1.0" xmlns:t="urn:oasis:names:tc:opendocument:xmlns:table:1.0" xmlns:text="urn:oasis:names:tc:opendocument:xmlns:text:1.0"';
/** A spreadsheet with these sheets. */
const ods = (...tables: string[]) =>
  zipSync({
    mimetype: strToU8('application/vnd.oasis.opendocument.spreadsheet'),
    'content.xml': strToU8(
      `<?xml version="1.0"?><office:document-content ${NAMES}><office:body><office:spreadsheet>${tables.join('')}</office:spreadsheet></office:body></office:document-content>`,
    ),
  });
const table = (name: string, ...rows: string[]) =>
  `<t:table t:name="${name}">${rows.map((r) => `<t:table-row>${r}</t:table-row>`).join('')}</t:table>`;
const text = (words: string) => `<t:table-cell office:value-type="string"><text:p>${words}</text:p></t:table-cell>`;
const number = (value: number, more = '') =>
  `<t:table-cell office:value-type="float" office:value="${value}" ${more}><text:p>shown</text:p></t:table-cell>`;

describe('an OpenDocument spreadsheet', () => {
  it('gives its cells as they are, not as they are shown, whatever its prefixes are', () => {
    const sheets = readOds(
      ods(
        table(
          'Values',
          `${text('specimen')}${text('value')}${text('date')}`,
          `${text('Amber &amp; &lt;nine&gt;')}${number(41.25)}<t:table-cell office:value-type="date" office:date-value="2026-06-02T10:30:00"/>`,
          `${text('two<text:s text:c="2"/>spaces')}${number(-0.5)}<t:table-cell office:value-type="time" office:time-value="PT00H01M05S"/>`,
        ),
      ),
    );
    expect(sheets).toEqual([
      {
        name: 'Values',
        rows: [
          ['specimen', 'value', 'date'],
          ['Amber & <nine>', 41.25, '2026-06-02 10:30:00'],
          ['two  spaces', -0.5, '00:01:05'],
        ],
      },
    ]);
  });

  it('repeats what is said to repeat, and leaves out what is empty at the end', () => {
    const empty = '<t:table-cell t:number-columns-repeated="16380"/>';
    const sheets = readOds(
      ods(
        `<t:table t:name="S"><t:table-row>${number(1, 't:number-columns-repeated="3"')}${empty}</t:table-row><t:table-row t:number-rows-repeated="2">${number(2)}</t:table-row><t:table-row t:number-rows-repeated="1048573">${empty}</t:table-row></t:table>`,
        table('Empty'),
      ),
    );
    expect(sheetTexts(sheets)).toEqual([{ name: 'S', text: '1,1,1\n2\n2' }]);
  });

  it('is refused in a sentence where it is none', () => {
    expect(() => readOds(strToU8('no zip'))).toThrow('it is no OpenDocument spreadsheet.');
    expect(() => readOds(zipSync({ 'other.xml': strToU8('<a/>') }))).toThrow('it is no OpenDocument spreadsheet.');
  });
});

describe('cells as text', () => {
  it('are moments without a zone, times that count, and texts that keep their commas', () => {
    const rows = [
      [new Date('2026-06-02T00:00:00Z'), new Date('2026-06-02T10:30:00.500Z'), new Date(Date.UTC(1899, 11, 30, 26, 3, 4))],
      ['a, "b"', true, null],
      [null, '', null],
    ];
    expect(sheetTexts([{ name: 'x', rows }])[0].text).toBe('2026-06-02,2026-06-02 10:30:00.500,26:03:04\n"a, ""b""",true,');
  });
});
