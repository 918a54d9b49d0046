// The wall. What it shows was planned by the server; this moves the time, the mark, the row on pace, the phase, the drill, the lifter and
// the next checkpoint, gives signals, turns to the part that the class is at, and fits the wall to the screen.
'use strict';
(() => {
  const by = (id) => document.getElementById(id);
  const wall = by('wall');
  const form = document.querySelector('.wctl');
  const number = (v) => (v ? Number(v) : null);
  const first = { started: number(wall.dataset.started), paused: number(wall.dataset.paused), now: Number(wall.dataset.now), stage: wall.dataset.stage };
  const state = window.lanternClock(form.getAttribute('action'), first, { told: () => { turn(); buttons(); show(); }, net: (text) => { by('net').textContent = text; } });
  const { seconds, text: clock } = state;
  const { signal, toggle, wake } = window.lanternSignals(wall, by('mute'));
  const SAYS = { half: 'half time', minute: 'last minute' };
  let word = ['', 0]; // what a signal says, and until when

  // the part that is shown ------------------------------------------------
  const parts = (text) => (text || '').split(';').filter(Boolean).map((p) => p.split(','));
  const phasesOf = (el) => parts(el.dataset.phases).map(([from, to, kind, n, of, line]) => ({ from: Number(from), to: Number(to), kind, n: Number(n), of: Number(of), line: line ? Number(line) : null }));
  const read = () => {
    const el = by('part');
    const versions = [...el.querySelectorAll('[data-version]')].map((v) => ({
      el: v,
      phases: phasesOf(v),
      moves: parts(v.dataset.lines).map((m) => m.map(Number)),
      checks: parts(v.dataset.checks).map(([at, ...name]) => [Number(at), name.join(',')]),
      texts: ['[data-round]', '[data-next]', '[data-by]'].map((css) => v.querySelector(css)),
    }));
    const own = phasesOf(el);
    const phases = own.length ? own : versions.length ? versions[0].phases : [];
    const p = { key: el.dataset.part, end: Number(el.dataset.end), scale: Number(el.dataset.scale), versions, phases, words: by('what').textContent, cues: [], own: own.length > 0 };
    p.inTurn = own.length > 0 || phases.length > 1; // else the whole clock is one phase and counts up
    p.down = !p.inTurn && versions.length === 0 && p.end > 0; // time that is left
    // what interrupts everybody is said for some seconds
    p.calls = parts(el.dataset.calls).map(([at, ...words]) => [Number(at), words.join(' ')]);
    p.calls.forEach(([at, words]) => { if (at > 0) p.cues.push([at, 'change', words]); });
    const last3 = (at) => [3, 2, 1].forEach((s) => p.cues.push([at - s, 'tick']));
    if (!p.own && !p.down) {
      last3(0);
      p.cues.push([0, 'go']);
    }
    if (p.inTurn) phases.slice(0, -1).forEach((x) => { last3(x.to); p.cues.push([x.to, 'change']); });
    if (p.end > 0) {
      if (!p.inTurn && !p.down && p.end >= 240) p.cues.push([p.end / 2, 'half'], [p.end - 60, 'minute']);
      last3(p.end);
      p.cues.push([p.end, 'end']);
    }
    return p;
  };
  let part = read();
  let turning = false;
  // another part is fetched whole; without a line this one stays until there is one
  const turn = () => { if (state.stage !== part.key) refresh(); };
  const refresh = async () => {
    if (turning) return;
    turning = true;
    const answer = await fetch(location.href, { credentials: 'same-origin', cache: 'no-store' }).catch(() => null);
    turning = false;
    if (!answer || !answer.ok) { setTimeout(turn, 2000); return; }
    const page = new DOMParser().parseFromString(await answer.text(), 'text/html');
    const fresh = page.getElementById('part');
    if (!fresh) { location.reload(); return; } // signed out
    by('part').replaceWith(document.adoptNode(fresh));
    ['last', 'next'].forEach((id) => {
      by(id).hidden = page.getElementById(id).hidden;
      by(`${id}-name`).textContent = page.getElementById(`${id}-name`).textContent;
    });
    form.elements.stage.value = page.querySelector('.wctl [name=stage]').value;
    const same = part.key;
    part = read();
    if (part.key !== same) before = null;
    buttons();
    show();
    turn();
  };
  // results come in while they are shown
  setInterval(() => { if (['results', 'cool-down'].includes(part.key)) refresh(); }, 10000);

  // what is shown ------------------------------------------------------
  const label = (now, phase) => {
    if (state.paused !== null) return 'stopped';
    if (now < 0) return 'starts in';
    if (Date.now() < word[1]) return word[0];
    if (part.end > 0 && now >= part.end) return part.own || part.down ? 'time is up' : 'time';
    if (!part.inTurn || !phase) return part.words;
    const of = phase.of > 0 ? `${phase.n} of ${phase.of}` : `${phase.n}`;
    return { rest: 'rest', cycle: `round ${of}`, step: of, set: `set ${of}`, build: 'build up', heavy: part.words }[phase.kind] || `work ${of}`;
  };
  const rows = (now, phase) => {
    const list = [...by('part').querySelectorAll('[data-row]')];
    const racks = list.some((el) => el.dataset.turn);
    for (const el of list) {
      const here = phase !== null && Number(el.dataset.row) === phase.line;
      if (racks) {
        el.hidden = list.length > 1 && !here;
        if (!el.hidden) lifters(el, now, phase);
      } else {
        el.classList.toggle('is-now', here);
        el.classList.toggle('is-over', phase === null || Number(el.dataset.row) < phase.line);
      }
    }
  };
  const lifters = (el, now, phase) => {
    const turnS = Number(el.dataset.turn) || 1;
    const at = phase && phase.kind === 'set' ? Math.floor((now - phase.from) / turnS) : -1;
    for (const rack of el.querySelectorAll('.wcol')) {
      [...rack.querySelectorAll('[data-lifter]')].forEach((li, i) => {
        const kg = li.dataset.weights.split('|');
        const set = phase && phase.n > 0 ? phase.n : 1;
        li.querySelector('[data-kg]').textContent = kg[Math.min(set, kg.length) - 1] || '';
        li.classList.toggle('is-now', i === at);
      });
    }
  };
  const pace = (now) => {
    for (const v of part.versions) {
      const here = v.moves.find((m) => now < m[1]) || null;
      const phase = part.inTurn ? v.phases.find((p) => now < p.to) : null;
      const line = phase && phase.line !== null ? phase.line : here && here[2];
      v.el.querySelectorAll('[data-line]').forEach((li) => li.classList.toggle('is-now', line !== null && Number(li.dataset.line) === line));
      v.texts[0].textContent = here ? `round ${here[3]}` : 'done';
      const next = v.checks.find((c) => c[0] > now);
      // where the face counts down to the next cycle, so does the aim: the rest that is left
      const left = next && phase && phase.kind === 'cycle' && next[0] <= phase.to;
      v.texts[1].textContent = left ? 'rest left' : next ? next[1] : 'On pace: done';
      v.texts[2].textContent = left ? clock(phase.to - next[0]) : next ? clock(next[0]) : '';
    }
  };
  const stand = () => {
    for (const v of part.versions) {
      v.el.querySelectorAll('[data-line]').forEach((li) => li.classList.remove('is-now'));
      const next = v.checks[0];
      [v.el.dataset.members, next ? next[1] : '', next ? clock(next[0]) : ''].forEach((text, i) => { v.texts[i].textContent = text; });
    }
    if (part.own) rows(0, part.phases[0]);
  };
  let before = null;
  const show = () => {
    const [face, what, mark, said] = ['clock', 'what', 'mark', 'said'].map(by);
    // the clock of another part says nothing of this one
    const stands = state.stage === part.key ? seconds() : null;
    face.style.visibility = part.key === 'results' ? 'hidden' : '';
    by('part').querySelectorAll('[data-names]').forEach((names) => { names.hidden = stands !== null; });
    if (said) said.hidden = stands !== null || said.children.length === 0;
    face.hidden = said !== null && !said.hidden;
    if (stands === null) {
      before = null;
      [face.textContent, what.textContent] = [part.down ? clock(part.end) : '0:00', part.words];
      face.classList.remove('is-aside');
      if (mark) mark.setAttribute('x', '-8');
      stand();
      return;
    }
    const now = part.end > 0 ? Math.min(stands, part.end) : stands;
    if (before !== null && stands - before < 2) {
      part.cues.filter(([at]) => before < at && at <= stands).slice(-1).forEach(([, kind, words]) => {
        signal(kind);
        if (words || SAYS[kind]) word = [words || SAYS[kind], Date.now() + (words ? 8000 : 4000)];
      });
    }
    before = stands;
    const phase = (part.inTurn && part.phases.find((p) => now < p.to)) || null;
    const left = phase ? phase.to - now : part.end - now;
    const text = now < 0 ? String(Math.ceil(-now)) : phase || part.down || part.own ? clock(Math.ceil(Math.max(0, left))) : clock(Math.max(0, now));
    if (face.textContent !== text) face.textContent = text;
    face.classList.toggle('is-aside', now < 0 || state.paused !== null || (phase !== null && phase.kind === 'rest'));
    const says = label(now, phase);
    if (what.textContent !== says) what.textContent = says;
    if (mark) mark.setAttribute('x', String(Math.min(Math.max(now, 0) / part.scale, 1) * 1808 - 8));
    if (now >= 0) pace(now);
    if (part.own) rows(now, phase);
  };
  const buttons = () => {
    const can = part.key === 'results' ? [] : state.started === null ? ['start'] : state.paused === null ? ['pause', 'reset'] : ['go-on', 'reset'];
    form.querySelectorAll('button[name=clock]').forEach((b) => { if (!['last', 'next'].includes(b.value)) b.hidden = !can.includes(b.value); });
    form.classList.toggle('is-quiet', state.started !== null && state.paused === null);
    wall.dataset.zero = state.started === null ? '' : String(state.started - state.skew);
  };

  // in step with the others ---------------------------------------------
  const base = form.getAttribute('action');
  const running = () => state.started !== null && part.versions.length > 0 && (part.end === 0 || seconds() < part.end);
  const press = async (button) => {
    const ask = button.dataset.ask || (['last', 'next'].includes(button.value) && running() ? 'The workout’s clock runs. It goes on while the walls show another part. Show it?' : '');
    if (ask && !window.confirm(ask)) return;
    const [body, was] = [new URLSearchParams([['csrf', form.elements.csrf.value], ['stage', form.elements.stage.value], ['clock', button.value]]), state.taken];
    const sent = await fetch(base, { method: 'POST', body, redirect: 'manual', credentials: 'same-origin' }).catch(() => null);
    if (!sent) { by('net').textContent = 'Not sent: no connection. Press again.'; return; }
    // no word of it: another was quicker, or nobody is signed in; the page says which
    setTimeout(() => { if (state.taken === was) location.reload(); }, 3000);
  };
  form.addEventListener('submit', (event) => {
    if (!event.submitter) return;
    event.preventDefault();
    press(event.submitter);
  });

  // the screen -----------------------------------------------------------
  const fit = () => {
    const size = Math.min(window.innerWidth / 1920, window.innerHeight / 1080);
    wall.style.transform = `scale(${size})`;
    wall.style.left = `${(window.innerWidth - 1920 * size) / 2}px`;
  };
  const full = () => (document.fullscreenElement ? document.exitFullscreen() : document.documentElement.requestFullscreen()).catch(() => {});
  by('full').addEventListener('click', full);
  by('full').hidden = false;
  const keepAwake = () => { if (navigator.wakeLock && document.visibilityState === 'visible') navigator.wakeLock.request('screen').catch(() => {}); };
  document.addEventListener('visibilitychange', keepAwake);
  // the button of the sound wakes it itself
  document.addEventListener('pointerdown', (event) => { if (event.target !== by('mute')) wake(); });
  document.addEventListener('keydown', (event) => {
    if (event.ctrlKey || event.altKey || event.metaKey) return;
    const of = (...values) => values.map((v) => form.querySelector(`button[value=${v}]:not([hidden])`)).find(Boolean);
    const key = event.key.toLowerCase();
    const onButton = event.target.closest('button, a');
    const button = { b: of('reset'), n: of('next'), p: of('last') }[key] || (key === ' ' && !onButton ? of('start', 'pause', 'go-on') : null);
    if (key !== 'm') wake();
    if (button) press(button);
    else if (key === 'm') toggle();
    else if (key === 'f') full();
    else return;
    event.preventDefault();
  });
  window.addEventListener('resize', fit);
  fit();
  buttons();
  show();
  state.follow();
  keepAwake();
  setInterval(show, 100);
})();
