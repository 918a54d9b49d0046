// At the finish: shows the wall's clock and gives a tap the time at which the name was tapped, however late it is sent.
'use strict';
(() => {
  const page = document.getElementById('finish');
  if (!page) return;
  let last = null; // the tile of the last press
  const [face, line] = ['clock', 'net'].map((id) => document.getElementById(id));
  const show = () => {
    const s = clock.seconds();
    const text = s === null ? 'The clock stands' : s < 0 ? `starts in ${Math.ceil(-s)}` : clock.text(s);
    if (face.textContent !== text) face.textContent = text;
  };
  const clock = window.lanternClock(page.dataset.base, JSON.parse(page.dataset.clock), { told: () => show(), net: (words) => { line.textContent = words; }, of: page.dataset.part });
  // before the form is taken up to be sent
  document.addEventListener('click', (event) => {
    const tap = event.target.closest('.hl-name-tap');
    const s = tap ? clock.seconds() : null;
    if (s !== null && s >= 1) tap.form.elements.result.value = clock.text(s);
    const tile = event.target.closest('.hl-tile');
    if (tile) last = tile.id;
  }, true);
  // the button that was pressed is gone with its tile: the tile in its place is where the hand is
  document.addEventListener('outbox:end', () => {
    const tile = last && document.activeElement === document.body ? document.getElementById(last) : null;
    if (tile) tile.focus({ preventScroll: true });
  });
  show();
  clock.follow();
  setInterval(show, 100);
})();
