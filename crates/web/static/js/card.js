// A member's card: kept for where there is no line, and while the wall runs the time with the member's own next checkpoint.
'use strict';
(() => {
  const main = document.getElementById('main');
  const base = main.dataset.card;
  if (navigator.serviceWorker) {
    navigator.serviceWorker.register('/card/worker.js').then(async () => {
      // the page that registers it was fetched without it: it is fetched once more, and kept
      const worker = await navigator.serviceWorker.ready;
      if (worker.active && !navigator.serviceWorker.controller) navigator.serviceWorker.addEventListener('controllerchange', keep);
      else keep();
    }).catch(() => {});
  }
  const keep = async () => {
    const cache = await caches.open('card-1').catch(() => null);
    if (!cache || main.dataset.line === 'off') return;
    await cache.add(base).catch(() => {});
    const files = [...document.querySelectorAll('link[rel=stylesheet], script[src], link[rel=icon], link[rel=manifest]')].map((el) => el.href || el.src);
    await Promise.all(files.map(async (f) => { if (!(await cache.match(f))) await cache.add(f); })).catch(() => {});
  };

  const runs = [...document.querySelectorAll('[data-runs]')];
  if (runs.length === 0 || main.dataset.line === 'off') return;
  const text = (s) => `${Math.floor(s / 60)}:${String(Math.floor(s % 60)).padStart(2, '0')}`;
  const clock = { started: null, paused: null, skew: 0, stage: '' };
  const ask = async () => {
    if (document.visibilityState !== 'visible') return;
    const from = performance.now();
    const answer = await fetch(`${base}/clock`, { cache: 'no-store' }).catch(() => null);
    if (!answer || !answer.ok) return;
    const now = await answer.json();
    // something was called out to this member: the card has changed
    if (now.cuts !== main.dataset.cuts) { location.reload(); return; }
    Object.assign(clock, now, { skew: now.now + (performance.now() - from) / 2 - Date.now() });
  };
  const show = () => {
    for (const el of runs) {
      const here = clock.started !== null && (clock.stage === '' || clock.stage === el.dataset.runs);
      const s = here ? ((clock.paused ?? Date.now() + clock.skew) - clock.started) / 1000 : null;
      const next = here ? el.dataset.checks.split(';').filter(Boolean).map((c) => c.split(',')).find(([at]) => Number(at) > s) : null;
      el.hidden = s === null || s < 0;
      if (el.hidden) continue;
      const [face, aim] = el.querySelectorAll('b, span');
      face.textContent = text(s);
      aim.textContent = clock.paused !== null ? 'stopped' : next ? `${next[1]} by ${text(Number(next[0]))}` : '';
    }
  };
  document.addEventListener('visibilitychange', ask);
  ask();
  setInterval(ask, 10000);
  setInterval(show, 250);
})();
