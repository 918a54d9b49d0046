// A member's row can be dragged to another rack; what it does is what the row's own rack buttons do.
'use strict';
(() => {
  let dragged = null;
  const rackOf = (el) => el.closest('[data-racks] tbody[data-rack]');

  document.addEventListener('dragstart', (event) => {
    const row = event.target.closest && event.target.closest('tr[data-member]');
    if (!row || !rackOf(row)) return;
    dragged = row;
    event.dataTransfer.effectAllowed = 'move';
    event.dataTransfer.setData('text/plain', row.dataset.member);
  });
  document.addEventListener('dragover', (event) => {
    const to = rackOf(event.target);
    if (!dragged || !to || to.closest('table') !== dragged.closest('table')) return;
    event.preventDefault();
    document.querySelectorAll('.is-drop').forEach((el) => el.classList.remove('is-drop'));
    to.classList.add('is-drop');
  });
  document.addEventListener('drop', (event) => {
    const to = rackOf(event.target);
    if (!dragged || !to || to.closest('table') !== dragged.closest('table')) return;
    event.preventDefault();
    const button = dragged.querySelector('.hl-mover button');
    if (!button || to === rackOf(dragged)) return;
    button.disabled = false;
    button.value = to.dataset.rack;
    button.click();
  });
  document.addEventListener('dragend', () => {
    dragged = null;
    document.querySelectorAll('.is-drop').forEach((el) => el.classList.remove('is-drop'));
  });
})();
