// The wall's clock. What it shows was planned by the server; this moves the time, the mark, the row on pace, the phase and the
// next checkpoint, gives signals, and fits the wall to the screen.
'use strict';
(() => {
  const by = (id) => document.getElementById(id);
  const [wall, face, what, mark, net, said] = ['wall', 'clock', 'what', 'mark', 'net', 'said'].map(by);
  const form = document.querySelector('.wctl');
  const end = Number(wall.dataset.end);
  const scale = Number(wall.dataset.scale);
  const number = (v) => (v ? Number(v) : null);
  const first = { started: number(wall.dataset.started), paused: number(wall.dataset.paused), now: Number(wall.dataset.now) };
  const state = window.lanternClock(form.getAttribute('action'), first, { told: () => { buttons(); show(); }, net: (text) => { net.textContent = text; } });
  const { seconds, text: clock } = state;
  const words = what.textContent;

  const parts = (text) => (text || '').split(';').filter(Boolean).map((p) => p.split(','));
  const phasesOf = (el) => parts(el.dataset.phases).map(([from, to, kind, n, of, line]) => ({ from: Number(from), to: Number(to), kind, n: Number(n), of: Number(of), line: line ? Number(line) : null }));
  const versions = [...document.querySelectorAll('[data-version]')].map((el) => ({
    el,
    phases: phasesOf(el),
    moves: parts(el.dataset.lines).map((m) => m.map(Number)),
    checks: parts(el.dataset.checks).map(([at, ...name]) => [Number(at), name.join(',')]),
    texts: ['[data-round]', '[data-next]', '[data-by]'].map((css) => el.querySelector(css)),
  }));
  const phases = versions.length ? versions[0].phases : [];
  const inTurn = phases.length > 1; // else the whole clock is one phase and counts up

  // signals ------------------------------------------------------------
  const cues = [];
  const last3 = (at) => [3, 2, 1].forEach((s) => cues.push([at - s, 'tick']));
  last3(0);
  cues.push([0, 'go']);
  if (inTurn) phases.slice(0, -1).forEach((p) => { last3(p.to); cues.push([p.to, 'change']); });
  if (end > 0) {
    if (!inTurn && end >= 240) cues.push([end / 2, 'half'], [end - 60, 'minute']);
    last3(end);
    cues.push([end, 'end']);
  }
  const SOUNDS = { tick: [[660, 0, 0.12]], go: [[990, 0, 0.5]], change: [[990, 0, 0.5]], half: [[780, 0, 0.18], [780, 0.3, 0.18]], minute: [[780, 0, 0.18], [780, 0.3, 0.18], [780, 0.6, 0.18]], end: [[990, 0, 0.35], [990, 0.5, 0.35], [990, 1, 0.8]] };
  const SAYS = { half: 'half time', minute: 'last minute' };
  let audio = null;
  let mute = false;
  try { mute = localStorage.getItem('wall-mute') === 'yes'; } catch { /* it is loud until told otherwise */ }
  const muted = by('mute');
  const loud = () => audio !== null && audio.state === 'running';
  // a browser gives no sound before somebody has pressed something on this very screen: it is said, not promised
  const tell = () => { muted.setAttribute('aria-pressed', String(!mute && loud())); muted.textContent = mute ? 'Sound is off' : loud() ? 'Sound is on' : 'Sound waits: press here'; };
  const wake = () => {
    try {
      audio = audio || new AudioContext();
      audio.onstatechange = tell;
      audio.resume();
    } catch { audio = null; }
  };
  const sound = (kind) => {
    if (mute || !loud()) return;
    for (const [hertz, after, long] of SOUNDS[kind]) {
      const [tone, volume] = [audio.createOscillator(), audio.createGain()];
      const at = audio.currentTime + after;
      tone.frequency.value = hertz;
      volume.gain.setValueAtTime(0.4, at);
      volume.gain.setTargetAtTime(0, at + long, 0.03);
      tone.connect(volume).connect(audio.destination);
      tone.start(at);
      tone.stop(at + long + 0.2);
    }
  };
  let word = ['', 0]; // what a signal says, and until when
  const signal = (kind) => {
    sound(kind);
    wall.dataset.cue = kind;
    setTimeout(() => { if (wall.dataset.cue === kind) delete wall.dataset.cue; }, kind === 'tick' ? 300 : 1200);
    if (SAYS[kind]) word = [SAYS[kind], Date.now() + 4000];
  };

  // what is shown ------------------------------------------------------
  const label = (now, phase) => {
    if (state.paused !== null) return 'stopped';
    if (now < 0) return 'starts in';
    if (Date.now() < word[1]) return word[0];
    if (end > 0 && now >= end) return 'time';
    if (!inTurn || !phase) return words;
    const of = phase.of > 0 ? `${phase.n} of ${phase.of}` : `${phase.n}`;
    return phase.kind === 'rest' ? 'rest' : phase.kind === 'cycle' ? `round ${of}` : `work ${of}`;
  };
  const pace = (now) => {
    for (const v of versions) {
      const here = v.moves.find((m) => now < m[1]) || null;
      const phase = inTurn ? v.phases.find((p) => now < p.to) : null;
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
    for (const v of versions) {
      v.el.querySelectorAll('[data-line]').forEach((li) => li.classList.remove('is-now'));
      const next = v.checks[0];
      [v.el.dataset.members, next ? next[1] : '', next ? clock(next[0]) : ''].forEach((text, i) => { v.texts[i].textContent = text; });
    }
  };
  let before = null;
  const show = () => {
    const stands = seconds();
    said.hidden = stands !== null || said.children.length === 0;
    face.hidden = !said.hidden;
    if (stands === null) {
      before = null;
      [face.textContent, what.textContent] = ['0:00', words];
      face.classList.remove('is-aside');
      if (mark) mark.setAttribute('x', '-8');
      stand();
      return;
    }
    const now = end > 0 ? Math.min(stands, end) : stands;
    if (before !== null && stands - before < 2) cues.filter(([at]) => before < at && at <= stands).slice(-1).forEach(([, kind]) => signal(kind));
    before = stands;
    const phase = inTurn ? phases.find((p) => now < p.to) : null;
    const text = now < 0 ? String(Math.ceil(-now)) : phase ? clock(Math.ceil(phase.to - now)) : clock(Math.max(0, now));
    if (face.textContent !== text) face.textContent = text;
    face.classList.toggle('is-aside', now < 0 || state.paused !== null || (phase !== null && phase !== undefined && phase.kind === 'rest'));
    const says = label(now, phase);
    if (what.textContent !== says) what.textContent = says;
    if (mark) mark.setAttribute('x', String(Math.min(Math.max(now, 0) / scale, 1) * 1808 - 8));
    if (now >= 0) pace(now);
  };
  const buttons = () => {
    const can = state.started === null ? ['start'] : state.paused === null ? ['pause', 'reset'] : ['go-on', 'reset'];
    form.querySelectorAll('button[name=clock]').forEach((b) => { b.hidden = !can.includes(b.value); });
    form.classList.toggle('is-quiet', state.started !== null && state.paused === null);
    wall.dataset.zero = state.started === null ? '' : String(state.started - state.skew);
  };

  // in step with the others ---------------------------------------------
  const base = form.getAttribute('action');
  const press = async (button) => {
    if (button.dataset.ask && !window.confirm(button.dataset.ask)) return;
    const [body, was] = [new URLSearchParams([['csrf', form.elements.csrf.value], ['clock', button.value]]), state.taken];
    const sent = await fetch(base, { method: 'POST', body, redirect: 'manual', credentials: 'same-origin' }).catch(() => null);
    if (!sent) { net.textContent = 'Not sent: no connection. Press again.'; return; }
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
  const toggle = () => {
    const waited = !mute && !loud();
    wake();
    if (waited) return;
    mute = !mute;
    try { localStorage.setItem('wall-mute', mute ? 'yes' : 'no'); } catch { /* for this visit */ }
    tell();
  };
  muted.addEventListener('click', toggle);
  muted.hidden = false;
  const full = () => (document.fullscreenElement ? document.exitFullscreen() : document.documentElement.requestFullscreen()).catch(() => {});
  by('full').addEventListener('click', full);
  by('full').hidden = false;
  const keepAwake = () => { if (navigator.wakeLock && document.visibilityState === 'visible') navigator.wakeLock.request('screen').catch(() => {}); };
  document.addEventListener('visibilitychange', keepAwake);
  // the button of the sound wakes it itself
  document.addEventListener('pointerdown', (event) => { if (event.target !== muted) wake(); });
  document.addEventListener('keydown', (event) => {
    if (event.ctrlKey || event.altKey || event.metaKey) return;
    const of = (...values) => values.map((v) => form.querySelector(`button[value=${v}]:not([hidden])`)).find(Boolean);
    const key = event.key.toLowerCase();
    const onButton = event.target.closest('button, a');
    const button = key === ' ' && !onButton ? of('start', 'pause', 'go-on') : key === 'b' ? of('reset') : null;
    if (key !== 'm') wake();
    if (button) press(button);
    else if (key === 'm') toggle();
    else if (key === 'f') full();
    else return;
    event.preventDefault();
  });
  window.addEventListener('resize', fit);
  fit();
  tell();
  buttons();
  show();
  state.follow();
  keepAwake();
  setInterval(show, 100);
})();
