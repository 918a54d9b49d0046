// A lost connection is said at once; what is typed stays where it is, and the last change is tried again.
'use strict';
(() => {
  const note = () => document.getElementById('lost');
  let again = null;

  const lost = (event) => {
    const box = note();
    if (!box) return;
    const at = new Date().toTimeString().slice(0, 5);
    box.textContent = `Not saved. The connection dropped at ${at}. What you typed is still here; I try again every 10 s.`;
    box.hidden = false;
    const el = event.detail.elt;
    clearTimeout(again);
    again = setTimeout(() => { if (document.contains(el)) htmx.trigger(el, el.tagName === 'TEXTAREA' ? 'input' : 'submit'); }, 10000);
  };
  document.addEventListener('htmx:sendError', lost);
  document.addEventListener('htmx:timeout', lost);
  document.addEventListener('htmx:responseError', (event) => {
    const box = note();
    const xhr = event.detail.xhr;
    const said = new DOMParser().parseFromString(xhr.responseText, 'text/html').querySelector('.hl-note');
    box.textContent = said ? said.textContent : `Not done: the server answered ${xhr.status}. Reload the page and try again.`;
    box.hidden = false;
  });
  document.addEventListener('htmx:afterRequest', (event) => {
    if (event.detail.successful) { clearTimeout(again); const box = note(); if (box) box.hidden = true; }
  });
})();
