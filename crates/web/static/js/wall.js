// The wall's clock. Everything it shows was planned by the server; this moves the time, the mark, the row on pace and
// the next checkpoint, and fits the wall to the screen.
'use strict';
(() => {
  const wall = document.getElementById('wall');
  const face = document.getElementById('clock');
  const mark = document.getElementById('mark');
  const started = wall.dataset.started ? Number(wall.dataset.started) : null;
  const end = Number(wall.dataset.end);
  const scale = Number(wall.dataset.scale);
  // the server's time rules: a screen with a wrong clock shows the right time
  const skew = Number(wall.dataset.now) - Date.now();

  const clock = (s) => `${Math.floor(s / 60)}:${String(Math.floor(s % 60)).padStart(2, '0')}`;

  const versions = [...document.querySelectorAll('[data-version]')].map((el) => ({
    el,
    moves: el.dataset.lines.split(';').filter(Boolean).map((m) => m.split(',').map(Number)),
    checks: el.dataset.checks.split(';').filter(Boolean).map((c) => {
      const at = c.indexOf(',');
      return [Number(c.slice(0, at)), c.slice(at + 1)];
    }),
  }));

  const show = () => {
    if (started === null) return;
    let now = Math.max(0, (Date.now() + skew - started) / 1000);
    if (end > 0) now = Math.min(now, end);
    face.textContent = clock(now);
    if (mark) mark.setAttribute('x', String(Math.min(now / scale, 1) * 1808 - 8));
    for (const v of versions) {
      const here = v.moves.find((m) => now < m[1]) || null;
      v.el.querySelectorAll('[data-line]').forEach((li) => {
        li.classList.toggle('is-now', here !== null && Number(li.dataset.line) === here[2]);
      });
      const round = v.el.querySelector('[data-round]');
      round.textContent = here ? `round ${here[3]}` : 'done';
      const next = v.checks.find((c) => c[0] > now);
      v.el.querySelector('[data-next]').textContent = next ? next[1] : 'On pace: done';
      v.el.querySelector('[data-by]').textContent = next ? clock(next[0]) : '';
    }
  };

  const fit = () => {
    const by = Math.min(window.innerWidth / 1920, window.innerHeight / 1080);
    wall.style.transform = `scale(${by})`;
    wall.style.left = `${(window.innerWidth - 1920 * by) / 2}px`;
  };

  window.addEventListener('resize', fit);
  fit();
  show();
  setInterval(show, 200);
})();
