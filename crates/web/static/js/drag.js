// A member's row can be dragged to another rack or another version; what it does is what the row's own buttons do.
// Rows: [draggable] with a form [data-takes]; places: [data-drop] with the value that the form's button then sends.
'use strict';
(() => {
  let dragged = null;
  const placeOf = (el) => el && el.closest && el.closest('[data-drop]');
  const fits = (place) => dragged && place && place.closest('table') === dragged.closest('table');
  const clear = () => document.querySelectorAll('.is-drop').forEach((el) => el.classList.remove('is-drop'));

  document.addEventListener('dragstart', (event) => {
    const row = event.target.closest && event.target.closest('tr[draggable]');
    if (!row || !placeOf(row)) return;
    dragged = row;
    event.dataTransfer.effectAllowed = 'move';
    event.dataTransfer.setData('text/plain', row.id);
  });
  document.addEventListener('dragover', (event) => {
    const place = placeOf(event.target);
    if (!fits(place)) return;
    event.preventDefault();
    clear();
    place.classList.add('is-drop');
  });
  document.addEventListener('drop', (event) => {
    const place = placeOf(event.target);
    if (!fits(place)) return;
    event.preventDefault();
    if (place === placeOf(dragged)) return;
    const buttons = [...dragged.querySelectorAll('[data-takes] button')];
    const value = place.dataset.drop;
    const button = buttons.find((b) => b.value === value && !b.disabled) || buttons[0];
    if (!button) return;
    button.disabled = false;
    button.value = value;
    button.click();
  });
  document.addEventListener('dragend', () => { dragged = null; clear(); });
})();
