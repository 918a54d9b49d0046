// The rest of each member at a rack counts down after their set, by the server's time; who is ready is said once.
'use strict';
(() => {
  let main = null;
  let skew = 0;
  const said = new Set();
  const show = () => {
    const here = document.getElementById('main');
    if (here !== main) [main, skew] = [here, Number(here.dataset.now) - Date.now()];
    document.querySelectorAll('[data-rested]').forEach((el) => {
      const left = Math.ceil((Number(el.dataset.rested) - Date.now() - skew) / 1000);
      const text = left > 0 ? `rest ${Math.floor(left / 60)}:${String(left % 60).padStart(2, '0')}` : 'rested';
      const key = `${el.dataset.name} ${el.dataset.rested}`;
      if (el.textContent.startsWith('rest ') && left <= 0 && !said.has(key)) {
        said.add(key);
        document.getElementById('ready').textContent = `${el.dataset.name} is rested.`;
      }
      if (el.textContent !== text) el.textContent = text;
    });
  };
  show();
  setInterval(show, 250);
})();
