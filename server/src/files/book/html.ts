import { readFileSync } from 'node:fs';
import { escapedMarkup } from '@plain-envoy/core/common';
import type { Block, BookContent, Section } from '@plain-envoy/core/book';
import { fontFiles } from './fonts.js';

/** A book as one file for a browser: fonts and drawings are in it, and nothing is fetched. */
export function bookHtml(book: BookContent): string {
  const { project, client, note, company, logo, revision, at, titleBlock, chapters } = book;
  const rows = [{ label: 'Revision', text: revision }, ...(at ? [{ label: 'Date', text: at }] : []), ...titleBlock];
  const contents = chapters.map(
    ({ title, sections }, index) =>
      `<li><a href="#c${index}">${escapedMarkup(title)}</a>${listOf(sections.map((inner, nth) => `<li><a href="#c${index}s${nth}">${escapedMarkup(inner.title)}</a></li>`))}</li>`,
  );
  return `<!doctype html>
<html lang="en">
<head>
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>${escapedMarkup(`${project}, ${revision}`)}</title>
<style>${styles()}</style>
</head>
<body>
<header>
${logo ? `<img src="${logo}" alt="${escapedMarkup(company)}">` : ''}
<p>${escapedMarkup(company)}</p>
<h1>${escapedMarkup(project)}</h1>
<p class="client">${escapedMarkup(client)}</p>
<p class="quiet">${escapedMarkup(note)}</p>
<table class="title">${rows.map(({ label, text }) => `<tr><th scope="row">${escapedMarkup(label)}</th><td>${escapedMarkup(text)}</td></tr>`).join('')}</table>
</header>
<nav aria-label="Contents">${listOf(contents)}</nav>
<main>
${chapters.map((chapter, index) => chapterOf(chapter, index)).join('\n')}
</main>
</body>
</html>
`;
}

function chapterOf({ title, blocks, sections }: Section, index: number): string {
  const inner = sections.map(
    (one, nth) => `<section><h3 id="c${index}s${nth}">${escapedMarkup(one.title)}</h3>${blocksOf(one.blocks)}</section>`,
  );
  return `<section class="chapter"><h2 id="c${index}">${escapedMarkup(title)}</h2>${blocksOf(blocks)}${inner.join('\n')}</section>`;
}

function blocksOf(blocks: readonly Block[]): string {
  return blocks
    .map((block) => {
      switch (block.kind) {
        case 'text':
          return `<p${block.tone === 'problem' ? ' class="problem"' : ''}>${escapedMarkup(block.text)}</p>`;
        case 'facts':
          return `<dl>${block.rows.map(([name, is]) => `<div><dt>${escapedMarkup(name)}</dt><dd>${escapedMarkup(is)}</dd></div>`).join('')}</dl>`;
        case 'drawing':
          return `<div class="drawing">${block.drawing.svg}</div>`;
        case 'table':
          return tableOf(block);
      }
    })
    .join('\n');
}

function tableOf({ title, columns, rows }: Extract<Block, { kind: 'table' }>): string {
  const side = (at: number) => (columns[at]!.isNumber ? ' class="number"' : '');
  const head = columns.map((column, at) => `<th scope="col"${side(at)}>${escapedMarkup(column.head)}</th>`).join('');
  const body = rows.map((row) => `<tr>${row.map((cell, at) => `<td${side(at)}>${escapedMarkup(String(cell ?? ''))}</td>`).join('')}</tr>`);
  return `<div class="wide"><table>${title ? `<caption>${escapedMarkup(title)}</caption>` : ''}<thead><tr>${head}</tr></thead><tbody>${body.join('\n')}</tbody></table></div>`;
}

function listOf(items: readonly string[]): string {
  return items.length ? `<ul>${items.join('')}</ul>` : '';
}

function styles(): string {
  const face = (family: string, path: string, weight: number) =>
    `@font-face{font-family:${family};font-weight:${weight};src:url(data:font/woff;base64,${readFileSync(path).toString('base64')}) format('woff')}`;
  const { Next, NextMore, Mono } = fontFiles;
  return `${[face('Next', Next.normal, 400), face('Next', Next.bold, 700), face('NextMore', NextMore.normal, 400), face('Mono', Mono.normal, 400)].join('\n')}
body{font:15px/1.45 Next,NextMore,sans-serif;color:#1d2733;background:#fff;margin:0 auto;max-width:1200px;padding:24px}
h1{font-size:40px;margin:24px 0 4px}h2{font-size:26px;margin:48px 0 8px;border-bottom:2px solid #1d2733}h3{font-size:18px;margin:28px 0 6px}
header img{max-width:260px;max-height:120px}.client{font-size:19px}.quiet,dt{color:#5b6673}.problem{font-weight:700}
table{border-collapse:collapse;width:100%;font-size:13px}caption{text-align:left;font-weight:700;padding:10px 0 4px}
th,td{text-align:left;vertical-align:top;padding:3px 8px;border-bottom:1px solid #d4d9de}.number{text-align:right;font-variant-numeric:tabular-nums}
table.title{width:auto;margin:24px 0}table.title th{color:#5b6673;font-weight:400}table.title td,table.title th{border:1px solid #5b6673}
nav ul{columns:3;list-style:none;padding:0}nav ul ul{columns:1;padding-left:14px}nav li{break-inside:avoid-column}a{color:#0b5c7a}
dl{display:grid;grid-template-columns:repeat(auto-fill,minmax(420px,1fr));gap:2px 24px;margin:4px 0}dl div{display:flex;gap:12px}dt{flex:0 0 120px}dd{margin:0}
.wide,.drawing{overflow-x:auto}
@media print{body{max-width:none;font-size:11px;padding:0}table{font-size:9px}.chapter{break-before:page}thead{display:table-header-group}tr{break-inside:avoid}}`;
}
