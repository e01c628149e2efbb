/** A saved table or chart as a page of its own, small enough to stand in another one. */
import type { ViewQuery } from '@dravex/contract';
import {
  fiscalYearOf,
  fiscalYearSpan,
  monthFrom,
  monthText,
  rollUp,
  type Span,
  type Table,
} from '@dravex/core';
import { Router, type Response } from 'express';
import type { LoadedPlan, Plans } from '../forecast/plans.ts';
import type { Connections } from '../platform/database.ts';
import { HttpProblem } from '../platform/errors.ts';
import { nonceOf } from '../platform/http.ts';
import { scopeOf } from './report.ts';
import { hashOf } from './secrets.ts';
import { viewByHash } from './store.ts';

function spanOf({ plan }: LoadedPlan, window: ViewQuery['window']): Span {
  const { first, last, closedThrough, fiscalStart } = plan.calendar;
  const closed = monthFrom(closedThrough);
  const all = { from: monthFrom(first), to: monthFrom(last) };
  const inside = ({ from, to }: Span): Span => ({
    from: Math.max(all.from, from),
    to: Math.min(all.to, to),
  });
  const year = fiscalYearSpan(fiscalYearOf(closed, fiscalStart), fiscalStart);
  switch (window) {
    case 'this year':
      return inside(year);
    case 'to date':
      return inside({ from: year.from, to: closed });
    case 'next 12':
      return inside({ from: closed + 1, to: closed + 12 });
    case 'last 12':
      return inside({ from: closed - 11, to: closed });
    case 'all':
      return all;
  }
}

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
tr.total td,tr.total th{font-weight:650}
td.open{color:#0f4c5c}
svg{display:block;width:100%;height:calc(100vh - 62px);min-height:120px}
.bar{fill:#0f4c5c}.open{fill:#9bb6bd}
text{font-size:11px;fill:#5c6470}
`;

const NAMES = { revenue: 'Revenue', units: 'Units', averagePrice: 'Average price' } as const;

interface Drawn {
  readonly table: Table;
  /** Of each column, whether all its months are closed. */
  readonly closed: readonly boolean[];
  readonly show: (value: number | null) => string;
}

function tableHtml({ table, closed, show }: Drawn): string {
  const head = table.columns.map(({ label }) => `<th scope="col">${escaped(label)}</th>`).join('');
  const row = (one: Table['total'], total: boolean): string => {
    const cells = one.cells
      .map(({ value }, at) => `<td${closed[at] ? '' : ' class="open"'}>${show(value)}</td>`)
      .join('');
    return `<tr${total ? ' class="total"' : ''}><th scope="row">${escaped(one.label)}</th>${cells}<td>${show(one.total.value)}</td></tr>`;
  };
  const rows = table.rows.filter(({ level }) => level === 0);
  return `<div class="scroll"><table><thead><tr><th></th>${head}<th scope="col">Total</th></tr></thead><tbody>${rows.map((one) => row(one, false)).join('')}${row(table.total, true)}</tbody></table></div>`;
}

/** Drawn for the smallest frame that it is to be read in; a larger one makes it larger. */
const WIDTH = 376;
const HEIGHT = 224;
const BASE = 202;
/** Labels that find room beside each other. */
const MOST_LABELS = 7;

/** Bars from zero, closed periods solid, open ones lighter; every second label where they are many. */
function chartHtml({ table, closed, show }: Drawn): string {
  const values = table.total.cells.map(({ value }) => value ?? 0);
  const highest = Math.max(1e-9, ...values);
  const lowest = Math.min(0, ...values);
  const y = (value: number): number => BASE - ((value - lowest) / (highest - lowest)) * (BASE - 24);
  const step = WIDTH / Math.max(1, values.length);
  const every = Math.ceil(values.length / MOST_LABELS);
  const bars = values.map((value, at) => {
    const top = Math.min(y(value), y(0));
    const height = Math.max(1, Math.abs(y(value) - y(0)));
    const x = at * step + step * 0.15;
    const label = table.columns[at]?.label ?? '';
    const middle = at * step + step / 2;
    const words =
      at % every === 0
        ? `<text x="${middle.toFixed(1)}" y="${HEIGHT - 8}" text-anchor="middle">${escaped(label)}</text><text x="${middle.toFixed(1)}" y="${(top - 4).toFixed(1)}" text-anchor="middle">${show(value)}</text>`
        : '';
    return `<rect class="${closed[at] ? 'bar' : 'open'}" x="${x.toFixed(1)}" y="${top.toFixed(1)}" width="${(step * 0.7).toFixed(1)}" height="${height.toFixed(1)}"><title>${escaped(label)}: ${show(value)}</title></rect>${words}`;
  });
  return `<svg viewBox="0 0 ${WIDTH} ${HEIGHT}" role="img" aria-label="${NAMES[table.total.label as 'revenue'] ?? escaped(table.total.label)} by period">${bars.join('')}</svg>`;
}

function page(loaded: LoadedPlan, name: string, query: ViewQuery, response: Response): string {
  const { plan, model } = loaded;
  const span = spanOf(loaded, query.window);
  const scope = scopeOf(loaded, query.members);
  const { grain, measure } = query;
  const table = rollUp(
    loaded.forecast,
    model.tree,
    { measure, rows: [query.rows], columns: 'time', scope, span, grain },
    plan.calendar.fiscalStart,
  );
  const end = monthFrom(plan.calendar.closedThrough);
  const months = new Intl.DateTimeFormat(loaded.locale, {
    month: 'short',
    year: '2-digit',
    timeZone: 'UTC',
  });
  const columns = table.columns.map((column) =>
    grain === 'month' && column.period
      ? {
          ...column,
          label: months.format(new Date(`${monthText(column.period.from)}-01T00:00:00Z`)),
        }
      : column,
  );
  const closed = table.columns.map(({ period }) => period !== null && period.to <= end);
  const price = measure === 'averagePrice';
  const unit = price ? 1 : 1000;
  const format = new Intl.NumberFormat(loaded.locale, { maximumFractionDigits: price ? 2 : 0 });
  const show = (value: number | null): string =>
    value === null ? '–' : format.format(value / unit).replace(/^-/, '\u2212');
  const money = measure === 'units' ? 'units' : plan.currency.code;
  const words = `${NAMES[measure]}, ${price ? '' : 'thousand '}${money}, ${monthText(span.from)} to ${monthText(span.to)}; closed through ${plan.calendar.closedThrough}, forecast after`;
  const drawn = { table: { ...table, columns }, closed, show };
  const body = query.kind === 'table' ? tableHtml(drawn) : chartHtml(drawn);
  return `<!doctype html><html lang="en"><head><meta charset="utf-8"><meta name="viewport" content="width=device-width"><title>${escaped(name)}</title><style nonce="${nonceOf(response)}">${STYLE}</style></head><body><h1>${escaped(name)}</h1><p>${escaped(words)}</p>${body}</body></html>`;
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
    const loaded = await plans.current(view.workspaceId);
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
      .send(page(loaded, view.name, view.query, response));
  });
  return router;
}
