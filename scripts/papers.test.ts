import { readFileSync } from 'node:fs';
import { expect, test } from '@jest/globals';
import { factLists, kindOf } from '@ulkret/core/facts';
import { kindsTable, papersNow } from './papers';

test('the papers tell of every kind of fact what the program knows', () => {
  const papers = readFileSync('docs/formats.md', 'utf8');
  const plain = (text: string) => text.replace(/[ -]+/g, ' ');
  expect(plain(papersNow(papers))).toBe(plain(papers));
  for (const list of factLists()) expect(kindsTable()).toContain(`| ${kindOf(list).is} |`);
});
