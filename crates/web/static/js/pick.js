// Many members to tick: found by a few letters, ticked all or none of those shown, and counted. Without it the whole list is there.
'use strict';
(() => {
  document.querySelectorAll('[data-finds]').forEach((bar) => {
    const list = bar.parentElement.querySelector('.hl-picklist');
    const input = bar.querySelector('input');
    const said = bar.querySelector('[data-ticked]');
    const labels = [...list.querySelectorAll('label')];
    const plain = (text) => text.trim().toLowerCase().normalize('NFD').replace(/\p{M}/gu, '');
    const tell = () => {
      const shown = labels.filter((l) => !l.hidden).length;
      const ticked = labels.filter((l) => l.querySelector('input').checked).length;
      said.textContent = `${ticked} ticked` + (shown < labels.length ? `, ${shown} of ${labels.length} shown` : '');
    };
    const find = () => {
      const wanted = plain(input.value);
      labels.forEach((l) => { l.hidden = !plain(l.textContent).split(/\s+/).concat(plain(l.textContent)).some((w) => w.startsWith(wanted)); });
      tell();
    };
    bar.hidden = labels.length === 0;
    input.addEventListener('input', find);
    // Enter ticks the only one that is shown, and never sends the form half done
    input.addEventListener('keydown', (event) => {
      if (event.key !== 'Enter') return;
      event.preventDefault();
      const shown = labels.filter((l) => !l.hidden);
      if (shown.length !== 1) return;
      const box = shown[0].querySelector('input');
      box.checked = !box.checked;
      input.value = '';
      find();
    });
    bar.querySelectorAll('[data-ticks]').forEach((button) => button.addEventListener('click', () => {
      labels.filter((l) => !l.hidden).forEach((l) => { l.querySelector('input').checked = button.dataset.ticks === 'all'; });
      tell();
    }));
    list.addEventListener('change', tell);
    tell();
  });
})();
