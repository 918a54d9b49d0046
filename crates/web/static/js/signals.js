// The wall's signals: sounds made here, each with a visual twin on the wall, and whether they can be heard.
'use strict';
window.lanternSignals = (wall, muted) => {
  const SOUNDS = { tick: [[660, 0, 0.12]], go: [[990, 0, 0.5]], change: [[990, 0, 0.5]], half: [[780, 0, 0.18], [780, 0.3, 0.18]], minute: [[780, 0, 0.18], [780, 0.3, 0.18], [780, 0.6, 0.18]], end: [[990, 0, 0.35], [990, 0.5, 0.35], [990, 1, 0.8]] };
  let audio = null;
  let mute = false;
  try { mute = localStorage.getItem('wall-mute') === 'yes'; } catch { /* it is loud until told otherwise */ }
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
  const signal = (kind) => {
    sound(kind);
    wall.dataset.cue = kind;
    setTimeout(() => { if (wall.dataset.cue === kind) delete wall.dataset.cue; }, kind === 'tick' ? 300 : 1200);
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
  tell();
  return { signal, toggle, wake };
};
