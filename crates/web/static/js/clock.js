// A class's clock in step with every other screen: the server tells of each press, each screen measures by how much its own clock is
// off, and one that loses the network goes on from what it knows. `told` is called after each change, `net` says how the line is, `of`
// names the only part whose clock is wanted: the walls may show another by now.
'use strict';
window.lanternClock = (base, first, { told, net, of }) => {
  const clock = { started: first.started ?? null, paused: first.paused ?? null, skew: first.now - Date.now(), taken: 0, stage: first.stage || '' };
  // seconds on the clock, below 0 in the lead-in; null while it stands
  clock.seconds = () => (clock.started === null ? null : ((clock.paused ?? Date.now() + clock.skew) - clock.started) / 1000);
  clock.text = (s) => `${Math.floor(s / 60)}:${String(Math.floor(s % 60)).padStart(2, '0')}`;

  const measure = async () => {
    let best = Infinity;
    for (let i = 0; i < 5; i += 1) {
      const from = performance.now();
      const answer = await fetch(base, { cache: 'no-store', credentials: 'same-origin' }).catch(() => null);
      if (!answer || !answer.ok) return;
      const { now } = await answer.json();
      const took = performance.now() - from;
      if (took < best) [best, clock.skew] = [took, now + took / 2 - Date.now()];
    }
    told();
  };
  let source = null;
  let heard = 0; // when the server was last heard of
  const follow = () => {
    if (source) source.close();
    source = new EventSource(`${base}/events`);
    heard = Date.now();
    const hear = () => { heard = Date.now(); net(''); };
    source.onmessage = (event) => {
      hear();
      const now = JSON.parse(event.data);
      clock.taken += 1; // how often the server told of the clock
      if (of && now.stage && now.stage !== of) return;
      [clock.started, clock.paused, clock.stage] = [now.started, now.paused, now.stage];
      told();
    };
    source.addEventListener('beat', hear);
    source.onopen = () => { hear(); measure(); };
    source.onerror = () => net('No connection: the clock goes on from here.');
  };
  // a refused or a silent connection is made anew; the server says something every ten seconds
  setInterval(() => { if (source.readyState === EventSource.CLOSED || Date.now() - heard > 25000) follow(); }, 3000);
  window.addEventListener('offline', () => { source.close(); source.onerror(); });
  window.addEventListener('online', follow);
  setInterval(measure, 120000);
  clock.follow = follow;
  return clock;
};
