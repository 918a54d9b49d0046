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
    // who is behind is so at the time of the press
    const late = event.target.closest('.hl-behind');
    const now = late ? clock.seconds() : null;
    if (now !== null && now >= 1) {
      late.setAttribute('hx-vals', JSON.stringify({ at: Math.floor(now) }));
      const url = new URL(late.href);
      url.searchParams.set('at', Math.floor(now));
      late.href = url;
    }
    const tile = event.target.closest('.hl-tile');
    if (tile) last = tile.id;
  }, true);
  // the button that was pressed is gone with its tile: the tile in its place is where the hand is
  const refocus = () => {
    const tile = last && document.activeElement === document.body ? document.getElementById(last) : null;
    if (tile) tile.focus({ preventScroll: true });
  };
  document.addEventListener('outbox:end', refocus);
  document.addEventListener('htmx:afterSettle', refocus);
  show();
  clock.follow();
  setInterval(show, 100);
})();
