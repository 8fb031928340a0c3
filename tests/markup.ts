import { createElement, type FunctionComponent } from 'react';
import { renderToString } from 'react-dom/server';
import { expect } from 'vitest';

const ENTITIES: Record<string, string> = { '&amp;': '&', '&lt;': '<', '&gt;': '>', '&quot;': '"', '&#x27;': "'" };

/** What a part of a page says when it is drawn on the server, as a person reads it; what no person should read fails. */
export function textOf<P extends object>(component: FunctionComponent<P>, props: P): string {
  const markup = renderToString(createElement(component, props));
  const text = markup
    .replace(/<!--.*?-->/g, '')
    .replace(/<(style|script)[\s\S]*?<\/\1>/g, '')
    .replace(/<[^>]+>/g, ' ')
    .replace(/&[a-z#0-9]+;/g, (e) => ENTITIES[e] ?? e)
    .replaceAll('\u00a0', ' ')
    .replaceAll('\u202f', ' ')
    .replaceAll('−', '-')
    .replace(/\s+/g, ' ')
    .trim();
  expect(text).not.toMatch(/\bNaN\b|\bundefined\b|\bnull\b|Infinity|\[object/);
  // nor may a place in a drawing be none
  expect(markup).not.toMatch(/="[^"]*\bNaN\b/);
  return text;
}
