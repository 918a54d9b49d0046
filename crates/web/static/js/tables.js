// Long tables are searched by a few letters and sorted by a press on a head. data-lists="what" marks a table of rows that stand by
// themselves; with data-grouped they are searched only. Without this file the whole table is there, in its own order.
'use strict';
(() => {
  const LONG = 15;
  const plain = (text) => text.trim().toLowerCase().normalize('NFD').replace(/\p{M}/gu, '');
  // a row with the lines that belong to it; a body of its own where each row has one
  const rows = (table) => {
    if (table.tBodies.length > 1) return [...table.tBodies].map((b) => [b]);
    const out = [];
    [...(table.tBodies[0] || { rows: [] }).rows].forEach((tr) => {
      if (tr.matches('.grp')) return;
      if (tr.matches('.hl-says, .hl-why') && out.length) out[out.length - 1].push(tr);
      else out.push([tr]);
    });
    return out;
  };
  const cell = (row, at) => {
    const tr = row[0].rows ? row[0].rows[0] : row[0];
    const td = tr.cells[at];
    const field = td && td.querySelector('input:not([type=hidden]), select');
    return td ? (td.dataset.sort || (field ? field.value : td.textContent)).trim() : '';
  };
  // 10:42 and 1,5 and 12 kg are numbers; what is empty comes last
  const value = (text) => {
    const clock = text.match(/^(\d+):(\d\d)\b/);
    if (clock) return Number(clock[1]) * 60 + Number(clock[2]);
    const number = text.match(/^[−-]?\d+(?:[.,]\d+)?/);
    return number ? Number(number[0].replace('−', '-').replace(',', '.')) : NaN;
  };
  const before = (a, b, numbers) => {
    if (!a || !b) return (a ? 0 : 1) - (b ? 0 : 1);
    return numbers ? value(a) - value(b) : plain(a).localeCompare(plain(b));
  };

  const finds = new WeakMap(); // how each table is searched again after some of its rows were swapped
  const setUp = (table) => {
    if (table.dataset.ready || rows(table).length <= LONG) return;
    table.dataset.ready = 'yes';
    const what = table.dataset.lists;
    const bar = document.createElement('p');
    bar.className = 'hl-find hl-line';
    const input = document.createElement('input');
    const said = document.createElement('span');
    Object.assign(input, { type: 'search', className: 'input is-small', placeholder: `Find in ${what}`, autocomplete: 'off' });
    input.setAttribute('aria-label', `Find in ${what}`);
    said.className = 's q';
    said.setAttribute('role', 'status');
    bar.append(input, said);
    (table.closest('.hl-scrolls') || table).before(bar);
    const find = () => {
      const wanted = plain(input.value);
      const all = rows(table);
      const shown = all.filter((row) => {
        const fits = plain(row.map((r) => r.textContent).join(' ')).includes(wanted);
        row.forEach((r) => { r.hidden = !fits; });
        return fits;
      });
      said.textContent = wanted ? `${shown.length} of ${all.length} shown` : '';
    };
    input.addEventListener('input', find);
    finds.set(table, () => { if (input.value) find(); });
    if ('grouped' in table.dataset) return;

    const heads = [...table.tHead.rows[0].cells];
    const sort = (head) => {
      const at = heads.indexOf(head);
      const up = head.getAttribute('aria-sort') !== 'ascending';
      const all = rows(table);
      const filled = all.map((row) => cell(row, at)).filter(Boolean);
      const numbers = filled.length > 0 && filled.every((t) => !Number.isNaN(value(t)));
      all.sort((a, b) => {
        const [x, y] = [cell(a, at), cell(b, at)];
        return x && y && !up ? before(y, x, numbers) : before(x, y, numbers);
      });
      const into = table.tBodies.length > 1 ? table : table.tBodies[0];
      all.forEach((row) => into.append(...row));
      heads.forEach((h) => h.removeAttribute('aria-sort'));
      head.setAttribute('aria-sort', up ? 'ascending' : 'descending');
    };
    heads.filter((h) => h.textContent.trim() && !h.querySelector('.is-sr-only, svg, button, a')).forEach((head) => {
      const button = document.createElement('button');
      button.type = 'button';
      button.className = 'hl-sort';
      button.append(...head.childNodes);
      head.append(button);
      button.addEventListener('click', () => sort(head));
    });
  };
  const all = () => document.querySelectorAll('table[data-lists]').forEach((table) => {
    setUp(table);
    const again = finds.get(table);
    if (again) again();
  });
  document.addEventListener('htmx:afterSettle', all);
  all();
})();
