// Single keys press visible controls: data-key anywhere on the page, data-key-row inside the selected row. They never
// act while a field has focus, and can be turned off in the sheet that ? opens.
'use strict';
(() => {
  const on = () => document.body.dataset.singleKeys !== 'off';
  const rows = () => [...document.querySelectorAll('[data-row]')];
  let selected = null; // id or index of the row, so that a swapped page keeps it
  let byKey = false; // the last press was a key

  const current = () => {
    const all = rows();
    if (selected === null) return null;
    return typeof selected === 'string' ? all.find((r) => r.id === selected) : all[selected];
  };

  // the selected row has the focus when a key chose it, so that it is read aloud and Tab goes on from it
  const select = (row, focus) => {
    rows().forEach((r) => r.classList.remove('is-sel'));
    if (!row) return;
    row.classList.add('is-sel');
    selected = row.id || rows().indexOf(row);
    if (focus) {
      row.tabIndex = -1;
      row.focus({ preventScroll: true });
    }
    row.scrollIntoView({ block: 'nearest' });
  };

  const step = (by) => {
    const all = rows();
    if (!all.length) return;
    const at = all.indexOf(current());
    select(all[Math.min(Math.max(at + by, 0), all.length - 1)], true);
  };

  const typing = (el) => el.closest('input:not([type=checkbox]), textarea, select, [contenteditable]');

  document.addEventListener('pointerdown', () => { byKey = false; });
  document.addEventListener('keydown', (event) => {
    byKey = true;
    if (event.ctrlKey || event.altKey || event.metaKey || typing(event.target) || !on()) return;
    if (document.querySelector('dialog[open]')) return;
    const key = event.key.toLowerCase();
    const find = (sel) => (sel && !sel.disabled ? sel : null);
    if (key === 'j' || key === 'k') {
      step(key === 'j' ? 1 : -1);
      event.preventDefault();
      return;
    }
    if (key === 'n') {
      const all = rows();
      const after = all.indexOf(current());
      const next = all.slice(after + 1).find((r) => 'look' in r.dataset) || all.find((r) => 'look' in r.dataset);
      if (next) select(next, true);
      return;
    }
    // Enter on a focused control is that control's own
    if (key === 'enter' && event.target !== document.body && !event.target.matches('[data-row]')) return;
    const row = current();
    const target =
      find(row && row.querySelector(`[data-key-row="${CSS.escape(key)}"]`)) ||
      find(document.querySelector(`[data-key="${CSS.escape(key)}"]`));
    if (!target) return;
    event.preventDefault();
    if (target.matches('input')) target.focus();
    else target.click();
  });

  document.addEventListener('click', (event) => {
    const opener = event.target.closest('[data-opens]');
    if (opener) document.getElementById(opener.dataset.opens).showModal();
    if (event.target.closest('[data-print]')) window.print();
    const row = event.target.closest('[data-row]');
    if (row) select(row);
  });

  document.addEventListener('change', (event) => {
    if (event.target.id === 'single-keys') document.body.dataset.singleKeys = event.target.checked ? 'on' : 'off';
  });

  // a row that had the focus has it in its new form too
  document.addEventListener('htmx:afterSwap', () => select(current(), document.activeElement === document.body && selected !== null && byKey));
})();
