// The sheet's editor: keeps text, marks and reading side by side, and its keys. Reading itself is the server's.
'use strict';
(() => {
  const area = () => document.getElementById('sheet');

  const place = () => {
    const text = area();
    if (!text) return;
    const marks = document.getElementById('marks');
    if (marks) marks.scrollLeft = text.scrollLeft;
    const lines = Math.min(300, Math.max(17, text.value.split('\n').length));
    text.closest('.hl-paper').style.setProperty('--lines', lines);
  };

  document.addEventListener('input', (event) => {
    if (event.target !== area()) return;
    // marks belong to the text as it was read: they wait for the next reading
    document.getElementById('marks').classList.add('is-stale');
    document.getElementById('saved').textContent = 'Typing …';
    place();
  });
  document.addEventListener('scroll', (event) => { if (event.target === area()) place(); }, true);
  document.addEventListener('htmx:afterSwap', place);
  document.addEventListener('htmx:oobAfterSwap', place);

  const problems = () => [...document.querySelectorAll('[data-problem]')];

  const go = (problem) => {
    const text = area();
    const lines = text.value.split('\n');
    const line = Number(problem.dataset.problem) - 1;
    const from = lines.slice(0, line).reduce((n, l) => n + l.length + 1, 0) + Number(problem.dataset.column) - 1;
    text.focus();
    text.setSelectionRange(from, from + Number(problem.dataset.length));
  };

  document.addEventListener('keydown', (event) => {
    const text = area();
    if (!text) return;
    if (event.key === 's' && (event.ctrlKey || event.metaKey)) {
      event.preventDefault();
      document.getElementById('save').click();
    } else if (event.key === 'Enter' && event.altKey) {
      const first = document.querySelector('[data-first]') || document.querySelector('#problems button');
      if (first) { event.preventDefault(); first.click(); }
    } else if (event.key === 'F8') {
      const all = problems();
      if (!all.length) return;
      event.preventDefault();
      const line = text.value.slice(0, text.selectionStart).split('\n').length;
      go(all.find((p) => Number(p.dataset.problem) > line) || all[0]);
    }
  });

  place();
})();
