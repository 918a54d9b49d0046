// Every change of a page goes through one box: it is kept in the browser until the server has it, sent in order, one at a time, each
// with a key by which the server does it once. So presses add up, and nothing typed is lost offline, by a reload or an expired
// sign-in. What waits is counted in the head of the page.
'use strict';
(() => {
  const account = document.body.dataset.account || '';
  const store = `outbox ${account}`;
  const note = () => document.getElementById('lost');
  const read = () => { try { return JSON.parse(localStorage.getItem(store)) || []; } catch { return []; } };
  const write = (all) => {
    try { localStorage.setItem(store, JSON.stringify(all)); } catch { /* full or forbidden: it is still in memory */ }
    const waits = document.getElementById('waits');
    if (waits) { waits.hidden = all.length === 0; waits.textContent = `${all.length} to send`; }
  };
  let box = account ? read() : [];
  let busy = false;
  let away = false; // something was sent that this page does not show
  let timer = null;

  const say = (words) => { const n = note(); if (n) { n.textContent = words; n.hidden = !words; } };
  const uuid = () => crypto.randomUUID ? crypto.randomUUID() : '10000000-1000-4000-8000-100000000000'.replace(/[018]/g, (c) => (Number(c) ^ (crypto.getRandomValues(new Uint8Array(1))[0] & (15 >> (Number(c) / 4)))).toString(16));
  const token = () => (document.querySelector('input[name=csrf]') || {}).value || '';

  const later = (words) => {
    say(words);
    clearTimeout(timer);
    timer = setTimeout(pump, 5000);
  };

  // an entry of this page is answered into it; one of another page is only sent
  const send = (entry) => {
    const fields = [...entry.fields, ['csrf', token()]];
    const headers = { 'X-Key': entry.key, 'HX-Request': 'true', 'Content-Type': 'application/x-www-form-urlencoded' };
    return fetch(entry.path, { method: 'POST', headers, body: new URLSearchParams(fields), credentials: 'same-origin' });
  };

  const show = async (entry, answer) => {
    const html = await answer.text();
    if (entry.page !== location.pathname) { away = true; return; }
    if (!html) { away = true; return; }
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

  async function pump() {
    if (busy || !box.length) return;
    busy = true;
    document.dispatchEvent(new Event('outbox:start'));
    while (box.length) {
      const entry = box[0];
      let answer;
      try {
        answer = await send(entry);
      } catch {
        const at = new Date().toTimeString().slice(0, 5);
        later(`Not saved yet. The connection dropped at ${at}. Nothing is lost: ${box.length} to send, and I try again every 5 s.`);
        break;
      }
      if (answer.status === 401) {
        const n = note();
        if (n) {
          n.textContent = 'You were signed out. Nothing is lost: ';
          const link = document.createElement('a');
          link.href = `/sign-in?next=${encodeURIComponent(location.pathname + location.search)}`;
          link.textContent = 'sign in, and it is sent';
          n.append(link);
          n.hidden = false;
        }
        break;
      }
      if (answer.status === 503 || answer.status === 502) { later('The server is busy. Nothing is lost: I try again every 5 s.'); break; }
      box.shift();
      write(box);
      if (answer.ok || answer.status === 422) {
        say('');
        await show(entry, answer);
      } else {
        const said = new DOMParser().parseFromString(await answer.text(), 'text/html').querySelector('.hl-note');
        say(said ? said.textContent : `Not done: the server answered ${answer.status}. Reload the page and try again.`);
      }
    }
    busy = false;
    document.dispatchEvent(new Event('outbox:end'));
    if (!box.length && away) refresh();
  }

  const put = (form, submitter) => {
    const data = new FormData(form, submitter);
    const fields = [...data.entries()].filter(([name]) => name !== 'csrf').map(([name, value]) => [name, String(value)]);
    const inherit = (name) => { const el = form.closest(`[${name}]`); return el ? el.getAttribute(name) : null; };
    box.push({ key: uuid(), path: form.getAttribute('hx-post'), fields, page: location.pathname, target: inherit('hx-target'), select: inherit('hx-select'), oob: inherit('hx-select-oob'), swap: inherit('hx-swap') });
    write(box);
    pump();
  };

  document.addEventListener('submit', (event) => {
    const form = event.target;
    if (form.hasAttribute('hx-post')) {
      event.preventDefault();
      event.stopImmediatePropagation();
      put(form, event.submitter);
      return;
    }
    // a plain form is sent once a page
    if (form.method === 'post') {
      if (form.dataset.sent) { event.preventDefault(); return; }
      form.dataset.sent = '1';
    }
  }, true);
  window.addEventListener('pageshow', () => document.querySelectorAll('form[data-sent]').forEach((f) => delete f.dataset.sent));
  window.addEventListener('online', pump);
  window.lanternPut = put;

  // the sheet's text, until the server has it
  const area = document.getElementById('sheet');
  if (area && area.tagName === 'TEXTAREA') {
    const kept = `sheet ${account} ${location.pathname}`;
    const before = localStorage.getItem(kept);
    if (before !== null && before !== area.value) {
      say('This was typed here and had not reached the server. It stands in the sheet again. ');
      const back = document.createElement('button');
      back.type = 'button';
      back.className = 'button is-small';
      back.textContent = 'Take the saved one instead';
      const saved = area.value;
      back.addEventListener('click', () => { area.value = saved; area.dispatchEvent(new Event('input', { bubbles: true })); say(''); });
      note().append(back);
      area.value = before;
      area.dispatchEvent(new Event('input', { bubbles: true }));
    }
    area.addEventListener('input', () => { try { localStorage.setItem(kept, area.value); } catch { /* full */ } });
    document.addEventListener('htmx:afterRequest', (event) => {
      if (event.detail.elt === area && event.detail.successful && event.detail.requestConfig.parameters.get && event.detail.requestConfig.parameters.get('sheet') === area.value) localStorage.removeItem(kept);
    });
    const lost = (words) => () => { say(words); clearTimeout(timer); timer = setTimeout(() => htmx.trigger(area, 'input'), 5000); };
    document.addEventListener('htmx:sendError', lost('Not saved. The connection dropped. What you typed is kept here; I try again every 5 s.'));
    document.addEventListener('htmx:responseError', (event) => {
      if (event.detail.xhr.status === 401) {
        say('You were signed out. What you typed is kept here: ');
        const link = document.createElement('a');
        link.href = `/sign-in?next=${encodeURIComponent(location.pathname)}`;
        link.textContent = 'sign in, and it stands in the sheet again';
        note().append(link);
      } else say(`Not saved: the server answered ${event.detail.xhr.status}. What you typed is kept here.`);
    });
  }

  write(box);
  pump();
})();
