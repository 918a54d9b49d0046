// Says that a plan is being worked out when an answer takes longer than a moment: a larger class after a change.
'use strict';
(() => {
  const note = document.getElementById('busy');
  if (!note) return;
  let timer = null;
  const start = () => {
    clearTimeout(timer);
    timer = setTimeout(() => { note.hidden = false; }, 400);
  };
  const stop = () => {
    clearTimeout(timer);
    note.hidden = true;
  };
  document.addEventListener('outbox:start', start);
  document.addEventListener('outbox:end', stop);
  document.addEventListener('htmx:beforeRequest', start);
  document.addEventListener('htmx:afterRequest', stop);
  document.addEventListener('submit', (event) => { if (!event.target.hasAttribute('hx-post')) start(); });
  document.addEventListener('click', (event) => {
    const link = event.target.closest('a[href^="/classes/"]');
    if (link && !link.hasAttribute('hx-get') && !event.ctrlKey && !event.metaKey) start();
  });
  window.addEventListener('pageshow', stop);
})();
