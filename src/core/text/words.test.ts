import { describe, expect, it } from 'vitest';
import { asMarkdown, asMarkdownCell } from './words';

describe('text in Markdown', () => {
  it.each([
    ['[press](javascript:alert(1))', '\\[press\\](javascript:alert(1))'],
    ['![](http://elsewhere.example/x.png)', '!\\[\\](http\\://elsewhere.example/x.png)'],
    ['<script>', '&lt;script>'],
    ['see HTTPS://a.example and www.b.example', 'see HTTPS\\://a.example and www\\.b.example'],
    ['write to me@lab.example', 'write to me\\@lab.example'],
    ['[x]: http://a.example', '\\[x\\]: http\\://a.example'],
    ['140 W @ 22 °C, 0.9 V; mailto: nobody', '140 W @ 22 °C, 0.9 V; mailto\\: nobody'],
  ])('%s is no link and loads nothing', (text, written) => expect(asMarkdown(text)).toBe(written));

  it('stays in its cell of a table', () => {
    expect(asMarkdownCell('a|b\n[c](d)')).toBe('a\\|b \\[c\\](d)');
  });
});
