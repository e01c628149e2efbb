/** A saved table or chart as a page of its own, small enough to stand in another one. */
import type { ViewQuery } from '@dravex/contract';
import type { Display } from '@dravex/core';
import { Router } from 'express';
import type { Plans } from '../plan/plans.ts';
import type { Connections } from '../platform/database.ts';
import { HttpProblem } from '../platform/errors.ts';
import { nonceOf } from '../platform/http.ts';
import { hashOf } from '../platform/secrets.ts';
import { viewByHash } from './store.ts';
import { makeView, type ViewRow, type ViewTable } from './view.ts';

const escaped = (text: string): string =>
  text.replace(/[&<>"']/g, (sign) => `&#${sign.charCodeAt(0)};`);

const STYLE = `
*{box-sizing:border-box}
body{margin:0;padding:10px 12px;background:#f6f4ef;color:#1f2430;font:13px/1.35 Figtree,system-ui,sans-serif}
h1{font-size:15px;margin:0}
p{margin:1px 0 8px;color:#5c6470;font-size:11.5px}
.scroll{overflow:auto;max-height:calc(100vh - 62px)}
table{border-collapse:collapse;width:100%;background:#fff;font-variant-numeric:tabular-nums}
th,td{padding:3px 7px;text-align:right;border-bottom:1px solid #ebe7de;white-space:nowrap;font-weight:400}
th:first-child,td:first-child{text-align:left;position:sticky;left:0;background:#fff}
thead th{color:#5c6470;font-size:11px;border-bottom:1px solid #1f2430;position:sticky;top:0;background:#fff}
tbody th.l1{padding-left:16px}tbody th.l2{padding-left:26px}tbody th.l3{padding-left:36px}
tr.total td,tr.total th{font-weight:650}
td.open{color:#0f4c5c}
svg{display:block;width:100%;height:calc(100vh - 62px);min-height:120px}
.bar{fill:#0f4c5c}.open{fill:#9bb6bd}
text{font-size:11px;fill:#5c6470}
@media(max-width:480px){
body{font-size:12px;padding:8px}h1{font-size:13.5px}p{font-size:11px;margin-bottom:5px}
th,td{padding:2px 4px}th:first-child{max-width:118px;overflow:hidden;text-overflow:ellipsis}
thead th{font-size:10.5px;max-width:66px;overflow:hidden;text-overflow:ellipsis}}
`;

/** Rows beyond these nobody reads in a frame; the page says how many there are. */
const MOST_ROWS = 200;

type Show = (value: number | null, display: Display) => string;

function tableHtml({ columns, rows, total }: ViewTable, show: Show): string {
  const head = columns.map(({ label }) => `<th scope="col">${escaped(label)}</th>`).join('');
  const line = ({ label, level, values }: ViewRow, last: boolean): string => {
    const cells = values.map((value, at) => {
      const column = columns[at];
      return `<td${column?.open ? ' class="open"' : ''}>${show(value, column?.display ?? 'units')}</td>`;
    });
    const indent = level > 0 ? ` class="l${Math.min(3, level)}"` : '';
    return `<tr${last ? ' class="total"' : ''}><th scope="row"${indent}>${escaped(label)}</th>${cells.join('')}</tr>`;
  };
  const shown = rows.slice(0, MOST_ROWS).map((row) => line(row, false));
  const more =
    rows.length > MOST_ROWS ? `<p>The first ${MOST_ROWS} of ${rows.length} rows</p>` : '';
  return `<div class="scroll"><table><thead><tr><th></th>${head}</tr></thead><tbody>${shown.join('')}${line(total, true)}</tbody></table>${more}</div>`;
}

/** Drawn for the smallest frame that it is to be read in; a larger one makes it larger. */
const WIDTH = 376;
const HEIGHT = 224;
const BASE = 202;
/** A letter of a label, in the drawing's units. */
const LETTER = 7.6;
/** Bars that can be told apart. */
const MOST_BARS = 60;

interface Bar {
  readonly label: string;
  readonly value: number | null;
  readonly display: Display;
  readonly open: boolean;
}

/** The bars of a view: the total in every stretch of time, or the outermost rows. */
function barsOf({ columns, rows, total, bars }: ViewTable): Bar[] {
  const [first] = columns;
  const list =
    bars > 0
      ? columns.slice(0, bars).map((column, at) => ({ ...column, value: total.values[at] ?? null }))
      : rows
          .filter(({ level }) => level === 0)
          .map(({ label, values }) => ({
            label,
            value: values[0] ?? null,
            display: first?.display ?? ('units' as const),
            open: false,
          }));
  return list.slice(0, MOST_BARS);
}

/** Bars from zero, closed periods solid, open ones lighter; as many labels as find room side by side. */
function chartHtml(view: ViewTable, show: Show): string {
  const list = barsOf(view);
  const values = list.map(({ value }) => value ?? 0);
  const highest = Math.max(1e-9, ...values);
  const lowest = Math.min(0, ...values);
  const y = (value: number): number => BASE - ((value - lowest) / (highest - lowest)) * (BASE - 24);
  const step = WIDTH / Math.max(1, list.length);
  const tops = list.map(({ value }) => Math.min(y(value ?? 0), y(0)));
  const words = list.map(({ label, value, display }) => ({ label, number: show(value, display) }));
  const longest = Math.max(
    1,
    ...words.map(({ label, number }) => Math.max(label.length, number.length)),
  );
  const half = (longest * LETTER) / 2;
  const every = Math.ceil((2 * half + LETTER) / step);
  /** A text over its bar, within the drawing. */
  const text = (at: number, top: number, content: string): string => {
    const middle = Math.min(WIDTH - half, Math.max(half, at * step + step / 2));
    return `<text x="${middle.toFixed(1)}" y="${top.toFixed(1)}" text-anchor="middle">${escaped(content)}</text>`;
  };
  /** Above the bars that a label reaches over. */
  const clear = (at: number): number => {
    const reach = Math.ceil(half / step);
    return Math.min(...tops.slice(Math.max(0, at - reach), at + reach + 1)) - 4;
  };
  const bars = list.map(({ value, open }, at) => {
    const top = tops[at] ?? BASE;
    const { label = '', number = '' } = words[at] ?? {};
    const height = Math.max(1, Math.abs(y(value ?? 0) - y(0)));
    const x = at * step + step * 0.15;
    const said = at % every === 0 ? text(at, HEIGHT - 8, label) + text(at, clear(at), number) : '';
    return `<rect class="${open ? 'open' : 'bar'}" x="${x.toFixed(1)}" y="${top.toFixed(1)}" width="${(step * 0.7).toFixed(1)}" height="${height.toFixed(1)}"><title>${escaped(label)}: ${number}</title></rect>${said}`;
  });
  return `<svg viewBox="0 0 ${WIDTH} ${HEIGHT}" role="img" aria-label="${escaped(view.words)}">${bars.join('')}</svg>`;
}

/** Numbers as a frame has room for them: money and units in thousands. */
function showIn(locale: string): Show {
  const whole = new Intl.NumberFormat(locale, { maximumFractionDigits: 0 });
  const exact = new Intl.NumberFormat(locale, {
    minimumFractionDigits: 2,
    maximumFractionDigits: 2,
  });
  const share = new Intl.NumberFormat(locale, { style: 'percent', minimumFractionDigits: 1 });
  const text = (value: number, display: Display): string => {
    if (display === 'percent') return share.format(value);
    return display === 'price' ? exact.format(value) : whole.format(value / 1000);
  };
  return (value, display) => (value === null ? '–' : text(value, display).replace(/^-/, '\u2212'));
}

function page(view: ViewTable, name: string, kind: ViewQuery['kind'], show: Show, nonce: string) {
  const body = kind === 'table' ? tableHtml(view, show) : chartHtml(view, show);
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escaped(name)}</title><style nonce="${nonce}">${STYLE}</style></head><body><h1>${escaped(name)}</h1><p>${escaped(view.words)}</p>${body}</body></html>`;
}

/** Serves saved views to whoever has their secret; they may stand in any page and run no script. */
export function embedRoutes(connections: Connections, plans: Plans): Router {
  const router = Router();
  router.get('/embed', async (request, response) => {
    const token = typeof request.query['token'] === 'string' ? request.query['token'] : '';
    const view = await viewByHash(connections.db, hashOf(token));
    if (!view) {
      throw new HttpProblem(404, 'Not found', 'This view is not there, or was withdrawn');
    }
    const table = await makeView(connections, plans, view.workspaceId, view.query);
    const { locale } = await plans.current(view.workspaceId);
    response
      .set(
        'content-security-policy',
        `default-src 'none'; style-src 'nonce-${nonceOf(response)}'; base-uri 'none'; form-action 'none'; frame-ancestors *`,
      )
      .removeHeader('x-frame-options');
    response.removeHeader('cross-origin-resource-policy');
    response
      .set({ 'cache-control': 'private, max-age=60', 'referrer-policy': 'no-referrer' })
      .type('html')
      .send(page(table, view.name, view.query.kind, showIn(locale), nonceOf(response)));
  });
  return router;
}
