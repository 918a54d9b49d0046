// Every change of a page goes through one box: it is kept in the browser until the server has it, sent in order, one at a time, each
// with a key by which the server does it once. So presses add up, and nothing pressed is lost offline, by a reload or an expired
// sign-in. What waits is counted in the head of the page. The box is the browser's: several open pages share it.
'use strict';
(() => {
  const account = document.body.dataset.account || '';
  const store = `outbox ${account}`;
  const WAIT_MS = 5000; // until it is tried again
  const LONGEST_MS = 30000; // an answer that takes longer is none
  const MOST_TRIES = 5; // of what makes the server fail
  let memory = []; // where the browser keeps nothing
  let busy = false;
  let away = false; // something was sent that this page does not show
  let timer = null;

  const read = () => { try { return JSON.parse(localStorage.getItem(store)) || []; } catch { return memory; } };
  const write = (all) => {
    memory = all;
    try { localStorage.setItem(store, JSON.stringify(all)); } catch { /* full or forbidden: it is still in memory */ }
    const waits = document.getElementById('waits');
    if (waits) { waits.hidden = all.length === 0; waits.textContent = `${all.length} to send`; }
  };
  const done = (entry) => write(read().filter((e) => e.key !== entry.key));
  const failed = (entry) => write(read().map((e) => (e.key === entry.key ? { ...e, tries: (e.tries || 0) + 1 } : e)));

  const note = () => document.getElementById('lost');
  const say = (words, ...more) => { const n = note(); if (n) { n.textContent = words; n.append(...more); n.hidden = !words; } };
  const signIn = (words) => {
    const link = document.createElement('a');
    link.href = `/sign-in?next=${encodeURIComponent(location.pathname + location.search)}`;
    link.textContent = words;
    link.addEventListener('click', (event) => { event.preventDefault(); window.lanternSignIn(goOn); });
    return link;
  };
  const goOn = async () => {
    say('');
    await newToken().catch(() => false);
    sendText();
    pump();
  };
  // an unchanged text is no input to the field itself: it is sent as it stands
  const sendText = () => {
    const text = document.querySelector('textarea#sheet');
    if (text) htmx.ajax('POST', text.getAttribute('hx-post'), { source: text, swap: 'none' });
  };
  const uuid = () => crypto.randomUUID ? crypto.randomUUID() : '10000000-1000-4000-8000-100000000000'.replace(/[018]/g, (c) => (Number(c) ^ (crypto.getRandomValues(new Uint8Array(1))[0] & (15 >> (Number(c) / 4)))).toString(16));

  const tokens = () => [...document.querySelectorAll('input[name=csrf]')];
  const token = () => (tokens()[0] || {}).value || '';
  // after a sign-in elsewhere the forms of this page have an old token
  const newToken = async () => {
    const page = await fetch(location.pathname + location.search, { credentials: 'same-origin' });
    const input = new DOMParser().parseFromString(await page.text(), 'text/html').querySelector('input[name=csrf]');
    if (!page.ok || !input || input.value === token()) return false;
    tokens().forEach((t) => { t.value = input.value; });
    return true;
  };

  const send = (entry) => {
    const fields = [...entry.fields, ['csrf', token()]];
    const headers = { 'X-Key': entry.key, 'HX-Request': 'true', 'Content-Type': 'application/x-www-form-urlencoded' };
    const signal = AbortSignal.timeout ? AbortSignal.timeout(LONGEST_MS) : undefined;
    return fetch(entry.path, { method: 'POST', headers, body: new URLSearchParams(fields), credentials: 'same-origin', signal });
  };

  // an entry of this page is answered into it; one of another page is only sent
  const show = async (entry, answer) => {
    const html = await answer.text();
    if (entry.page !== location.pathname || !html) { away = true; return; }
    const focused = document.activeElement && document.activeElement.id;
    const order = window.lanternOrder ? window.lanternOrder() : [];
    htmx.swap(entry.target || 'body', html, { swapStyle: entry.swap || 'outerHTML' }, { select: entry.select, selectOOB: entry.oob });
    if (window.lanternReorder) window.lanternReorder(order);
    if (focused && !document.activeElement.id) { const again = document.getElementById(focused); if (again) again.focus({ preventScroll: true }); }
  };

  const refresh = () => {
    away = false;
    if (document.getElementById('main')) htmx.ajax('GET', location.pathname + location.search, { target: '#main', select: '#main', selectOOB: '#rail,#steps', swap: 'outerHTML' });
  };

  const later = (words) => {
    say(words);
    clearTimeout(timer);
    timer = setTimeout(pump, WAIT_MS);
  };

  // sends one entry; whether the next may follow
  const next = async (entry) => {
    const waiting = read().length;
    let answer;
    try {
      answer = await send(entry);
      if (answer.status === 403 && await newToken()) answer = await send(entry);
    } catch {
      const at = new Date().toTimeString().slice(0, 5);
      later(`Not saved yet. The connection dropped at ${at}. Nothing is lost: ${waiting} to send, and I try again every ${WAIT_MS / 1000} s.`);
      return false;
    }
    if (answer.status === 401) {
      say('You were signed out. Nothing is lost: ', signIn('sign in, and it is sent'));
      window.lanternSignIn(goOn);
      return false;
    }
    if (answer.status >= 500 && (entry.tries || 0) < MOST_TRIES) {
      failed(entry);
      later(`The server is busy. Nothing is lost: ${waiting} to send, and I try again every ${WAIT_MS / 1000} s.`);
      return false;
    }
    done(entry);
    if (answer.ok || answer.status === 422) {
      say('');
      await show(entry, answer);
    } else {
      const said = new DOMParser().parseFromString(await answer.text(), 'text/html').querySelector('.hl-note');
      say(said ? said.textContent : `Not done: the server answered ${answer.status}. Reload the page and try again.`);
    }
    return true;
  };

  async function pump() {
    if (busy || !read().length) return;
    busy = true;
    document.dispatchEvent(new Event('outbox:start'));
    try {
      for (let entry = read()[0]; entry && await next(entry);) entry = read()[0];
    } finally {
      busy = false;
      document.dispatchEvent(new Event('outbox:end'));
    }
    if (!read().length && away) refresh();
  }

  const put = (form, submitter) => {
    // what can be said once only, as a set at a rack, waits once: a second press says so
    const once = form.dataset.once && `${form.getAttribute('hx-post')} ${form.dataset.once}`;
    if (once && read().some((e) => e.once === once)) { say('This is kept already and waits to be sent.'); return; }
    const data = new FormData(form, submitter);
    const fields = [...data.entries()].filter(([name]) => name !== 'csrf').map(([name, value]) => [name, String(value)]);
    // places on the page mean blocks of the sheet that it was made from
    const steps = document.getElementById('steps');
    if (steps) fields.push(['seen', steps.dataset.version]);
    const inherit = (name) => { const el = form.closest(`[${name}]`); return el ? el.getAttribute(name) : null; };
    const entry = { key: uuid(), once, path: form.getAttribute('hx-post'), fields, page: location.pathname, target: inherit('hx-target'), select: inherit('hx-select'), oob: inherit('hx-select-oob'), swap: inherit('hx-swap') };
    write([...read(), entry]);
    pump();
  };

  document.addEventListener('submit', (event) => {
    const form = event.target;
    if (form.hasAttribute('hx-post')) {
      event.preventDefault();
      event.stopImmediatePropagation();
      put(form, event.submitter);
    } else if (form.method === 'post') {
      // a plain form is sent once a page
      if (form.dataset.sent) event.preventDefault();
      form.dataset.sent = '1';
    }
  }, true);
  window.addEventListener('pageshow', () => document.querySelectorAll('form[data-sent]').forEach((f) => delete f.dataset.sent));
  window.addEventListener('online', pump);
  write(read());
  pump();

  // the sheet's text, until the server has it
  const area = document.getElementById('sheet');
  if (!area || area.tagName !== 'TEXTAREA') return;
  const kept = `sheet ${account} ${location.pathname}`;
  const version = () => document.querySelector('#editor input[name=version]').value;
  const forget = () => localStorage.removeItem(kept);
  const typed = () => area.dispatchEvent(new Event('input', { bubbles: true }));
  const button = (words, press) => {
    const b = document.createElement('button');
    b.type = 'button';
    b.className = 'button is-small';
    b.textContent = words;
    b.addEventListener('click', () => { press(); say(''); });
    return b;
  };
  const before = (() => { try { return JSON.parse(localStorage.getItem(kept)); } catch { return null; } })();
  if (before && before.text === area.value) forget();
  else if (before && before.version === version()) {
    const saved = area.value;
    area.value = before.text;
    say('This was typed here and had not reached the server. It stands in the sheet again. ', button('Take the saved one instead', () => { area.value = saved; typed(); }));
    setTimeout(typed);
  } else if (before) {
    // the sheet was saved since: what was typed on the older one is offered, never put over it
    say('Something typed here earlier had not reached the server, and the sheet was saved since. ', button('Show what was typed', () => { area.value = before.text; typed(); }), ' ', button('Forget it', forget));
  }
  area.addEventListener('input', () => { try { localStorage.setItem(kept, JSON.stringify({ text: area.value, version: version() })); } catch { /* full */ } });
  document.addEventListener('htmx:afterRequest', (event) => {
    const { elt, successful, requestConfig } = event.detail;
    if (elt === area && successful && requestConfig.parameters.get('sheet') === area.value) { forget(); say(''); }
  });
  document.addEventListener('htmx:sendError', () => {
    say(`Not saved. The connection dropped. What you typed is kept here; I try again every ${WAIT_MS / 1000} s.`);
    clearTimeout(timer);
    timer = setTimeout(() => { sendText(); pump(); }, WAIT_MS);
  });
  document.addEventListener('htmx:responseError', (event) => {
    const { status } = event.detail.xhr;
    if (status === 401) say('You were signed out. What you typed is kept here: ', signIn('sign in, and it stands in the sheet again'));
    else say(`Not saved: the server answered ${status}. What you typed is kept here.`);
  });
})();
