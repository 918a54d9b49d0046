// The sheet's editor: keeps text, marks and reading side by side, its keys, completion and clean paste. Every change is
// typed into the field, so that the field's own undo takes it back. Reading itself is the server's.
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

  // puts text where the selection is, in a way that undo knows
  const type = (text) => {
    const field = area();
    field.focus();
    if (!document.execCommand('insertText', false, text)) {
      field.setRangeText(text, field.selectionStart, field.selectionEnd, 'end');
      field.dispatchEvent(new Event('input', { bubbles: true }));
    }
  };

  const select = (line, column, length) => {
    const field = area();
    const lines = field.value.split('\n');
    const from = lines.slice(0, line - 1).reduce((n, l) => n + l.length + 1, 0);
    // columns count characters, the field counts units of its text
    const chars = [...(lines[line - 1] || '')];
    const start = from + chars.slice(0, column - 1).join('').length;
    const end = start + chars.slice(column - 1, column - 1 + length).join('').length;
    field.focus();
    field.setSelectionRange(start, end);
  };

  // completion
  let words = null;
  let open = [];
  let at = 0;
  const list = () => document.getElementById('complete');
  const close = () => { open = []; if (list()) list().hidden = true; };

  const load = () => {
    if (words) return;
    words = [];
    fetch('/sheet-words').then((r) => (r.ok ? r.json() : null)).then((all) => { if (all) words = all; }).catch(() => {});
  };

  // what stands before the cursor on its line, after a count
  const stem = () => {
    const field = area();
    const before = field.value.slice(0, field.selectionStart);
    const line = before.slice(before.lastIndexOf('\n') + 1);
    const work = line.match(/^\s*(?:[-*•]\s+)?(?:[\d.,:/-]+\s*(?:m|km|cal|s|min|reps)?\s+|max\s+(?:cal\s+)?|[a-z -]+:\s*[\d.,:/-]+\s*(?:m|km|cal|s)?\s+)(\p{L}[\p{L} -]*)$/iu);
    if (work) return { text: work[1], from: field.selectionStart - work[1].length, movement: true };
    const start = line.match(/^\s*(#?\s?\p{L}[\p{L} -]*)$/iu);
    return start ? { text: start[1], from: field.selectionStart - start[1].length, movement: false } : null;
  };

  const key = (text) => text.toLowerCase().replace(/[\s-]+/g, '');

  const complete = () => {
    const field = area();
    const s = stem();
    if (!s || s.text.trim().length < 2 || !words || !words.movements || field.selectionStart !== field.selectionEnd) return close();
    const k = key(s.text);
    const from = s.movement ? words.movements : [...words.words, ...words.movements];
    const fits = from.filter((w) => key(w).startsWith(k) && key(w) !== k);
    const inside = s.movement ? from.filter((w) => !key(w).startsWith(k) && w.toLowerCase().split(/[\s-]/).some((p) => p.startsWith(s.text.toLowerCase()))) : [];
    open = [...fits, ...inside].slice(0, 6);
    if (!open.length) return close();
    at = 0;
    show(s);
  };

  const show = (s) => {
    const field = area();
    const box = list();
    box.replaceChildren(...open.map((w, i) => {
      const li = document.createElement('li');
      li.textContent = w;
      li.setAttribute('role', 'option');
      li.setAttribute('aria-selected', String(i === at));
      li.addEventListener('mousedown', (event) => { event.preventDefault(); at = i; take(); });
      return li;
    }));
    const row = parseFloat(getComputedStyle(field).lineHeight);
    const line = field.value.slice(0, s.from).split('\n').length;
    box.style.left = `${field.offsetLeft + 40}px`;
    box.style.top = `${field.offsetTop + line * row + 4}px`;
    box.hidden = false;
  };

  const take = () => {
    const s = stem();
    const word = open[at];
    close();
    if (!s || !word) return;
    area().setSelectionRange(s.from, area().selectionStart);
    type(word);
    close();
  };

  // paste from documents and pages: their lines and list items, none of their dress
  const plain = (html) => {
    const doc = new DOMParser().parseFromString(html, 'text/html');
    const block = /^(P|DIV|LI|TR|H[1-6]|UL|OL|TABLE|SECTION|ARTICLE|BLOCKQUOTE|PRE)$/;
    let out = '';
    const walk = (node) => {
      if (node.nodeType === Node.TEXT_NODE) { out += node.textContent.replace(/[ \t\r\n\u00a0]+/g, ' '); return; }
      if (node.nodeType !== Node.ELEMENT_NODE || /^(STYLE|SCRIPT|HEAD)$/.test(node.tagName)) return;
      if (node.tagName === 'BR') { out += '\n'; return; }
      const own = block.test(node.tagName);
      if (own && out && !out.endsWith('\n')) out += '\n';
      if (/^(TD|TH)$/.test(node.tagName) && out && !/[\s]$/.test(out)) out += ' ';
      node.childNodes.forEach(walk);
      if (own && !out.endsWith('\n')) out += '\n';
    };
    walk(doc.body);
    return out.split('\n').map((l) => l.trim()).join('\n').replace(/\n{3,}/g, '\n\n').trim();
  };

  document.addEventListener('paste', (event) => {
    if (event.target !== area() || !event.clipboardData) return;
    const text = event.clipboardData.getData('text/plain');
    const html = event.clipboardData.getData('text/html');
    // plain text that kept its lines is what was meant
    if (!html || text.trim().includes('\n')) return;
    const clean = plain(html);
    if (!clean || clean === text.trim()) return;
    event.preventDefault();
    type(clean);
  });

  document.addEventListener('input', (event) => {
    if (event.target !== area()) return;
    // marks belong to the text as it was read: they wait for the next reading
    document.getElementById('marks').classList.add('is-stale');
    document.getElementById('saved').textContent = 'Typing …';
    place();
    complete();
  });
  document.addEventListener('scroll', (event) => { if (event.target === area()) { place(); close(); } }, true);
  document.addEventListener('focusout', (event) => { if (event.target === area()) close(); });
  document.addEventListener('focusin', (event) => { if (event.target === area()) load(); });
  document.addEventListener('htmx:afterSwap', place);
  document.addEventListener('htmx:oobAfterSwap', place);

  const problems = () => [...document.querySelectorAll('[data-problem]')];
  const go = (p) => select(Number(p.dataset.problem), Number(p.dataset.column), Number(p.dataset.length));

  document.addEventListener('click', (event) => {
    const button = event.target.closest('button');
    if (!button || !area()) return;
    if (button.dataset.with !== undefined) {
      // a suggestion, unless the text has changed since it was read: then the server puts it in
      if (document.getElementById('marks').classList.contains('is-stale')) return;
      event.preventDefault();
      go(button.closest('[data-problem]'));
      type(button.dataset.with);
    } else if (button.dataset.plainform !== undefined) {
      event.preventDefault();
      const text = document.getElementById('plainform').textContent;
      area().focus();
      area().select();
      type(text.replace(/\n$/, ''));
    } else if (button.dataset.insert !== undefined) {
      const field = area();
      const before = field.value.slice(0, field.selectionEnd);
      field.setSelectionRange(field.selectionEnd, field.selectionEnd);
      type((before && !before.endsWith('\n') ? '\n' : '') + button.dataset.insert + '\n');
    }
  });

  document.addEventListener('keydown', (event) => {
    const text = area();
    if (!text) return;
    if (open.length && event.target === text) {
      if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
        event.preventDefault();
        at = (at + (event.key === 'ArrowDown' ? 1 : open.length - 1)) % open.length;
        const s = stem();
        if (s) show(s);
        return;
      }
      if (event.key === 'Tab' && !event.shiftKey) { event.preventDefault(); take(); return; }
      if (event.key === 'Escape') { event.preventDefault(); close(); return; }
      if (event.key === 'Enter') close();
    }
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

  document.querySelectorAll('[data-insert]').forEach((b) => { b.hidden = false; });
  place();
})();
