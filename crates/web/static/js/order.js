// Rows stay where they are while somebody presses their buttons: after a change each row stands where it stood, whatever version it
// has now, until "Sort again" or a new visit.
'use strict';
(() => {
  // a row with the lines that belong to it
  const group = (row) => {
    const all = [row];
    for (let next = row.nextElementSibling; next && !next.matches('[data-row], .grp'); next = next.nextElementSibling) all.push(next);
    return all;
  };

  window.lanternOrder = () => [...document.querySelectorAll('[data-keeps-order]')].map((table) =>
    [...table.tBodies].map((body) => [...body.querySelectorAll('[data-row][id]')].map((row) => row.id)));

  window.lanternReorder = (before) => {
    let moved = false;
    document.querySelectorAll('[data-keeps-order]').forEach((table, t) => {
      (before[t] || []).forEach((ids, b) => {
        const body = table.tBodies[b];
        if (!body) return;
        const here = [...body.querySelectorAll('[data-row][id]')].map((row) => row.id);
        if (here.join() === ids.join()) return;
        moved = true;
        ids.map((id) => document.getElementById(id)).filter((row) => row && table.contains(row)).forEach((row) => body.append(...group(row)));
      });
    });
    const again = document.getElementById('sort-again');
    if (again && moved) again.hidden = false;
  };
})();
