// A sign-in over the page: what was pressed or typed stays where it is, and goes on afterwards.
'use strict';
(() => {
  const page = async (path) => new DOMParser().parseFromString(await (await fetch(path, { credentials: 'same-origin' })).text(), 'text/html');
  const part = (name, more = {}) => Object.assign(document.createElement(name), more);

  const field = (id, words, more) => {
    const label = part('label', { htmlFor: id, textContent: words });
    return [label, part('input', { id, name: id.replace('again-', ''), className: 'input', required: true, ...more })];
  };

  const dialog = () => {
    const box = part('dialog', { id: 'again', className: 'hl-keysheet' });
    const form = part('form', { className: 'hl-form' });
    const note = part('p', { className: 'hl-note', hidden: true });
    note.setAttribute('role', 'alert');
    const leave = part('button', { type: 'button', className: 'button', textContent: 'Not now' });
    const acts = part('p', { className: 'hl-acts' });
    acts.append(part('button', { className: 'button is-link', textContent: 'Sign in' }), ' ', leave);
    form.append(...field('again-email', 'E-mail', { type: 'email', autocomplete: 'username' }), ...field('again-password', 'Password', { type: 'password', autocomplete: 'current-password' }), note, acts);
    const head = part('h2', { id: 'again-head', className: 'hl-h', textContent: 'You were signed out' });
    box.setAttribute('aria-labelledby', head.id);
    box.append(head, part('p', { className: 's', textContent: 'Nothing is lost. Sign in and it goes on from here.' }), form);
    leave.addEventListener('click', () => box.close());
    box.addEventListener('close', () => box.remove());
    document.body.append(box);
    return { box, form, note };
  };

  // opens it once; `then` runs when somebody is signed in
  window.lanternSignIn = (then) => {
    if (document.getElementById('again')) return;
    const { box, form, note } = dialog();
    const refuse = (words) => { note.textContent = words; note.hidden = false; };
    form.addEventListener('submit', async (event) => {
      event.preventDefault();
      event.stopPropagation();
      try {
        const csrf = (await page('/sign-in')).querySelector('input[name=csrf]').value;
        const body = new URLSearchParams([...new FormData(form), ['csrf', csrf]]);
        const answer = await fetch('/sign-in', { method: 'POST', body, credentials: 'same-origin', redirect: 'manual' });
        if (answer.type !== 'opaqueredirect') {
          const said = new DOMParser().parseFromString(await answer.text(), 'text/html').querySelector('#problem');
          refuse(said ? said.textContent : `The server answered ${answer.status}. Try once more.`);
          return;
        }
        // somebody else's page is not this one's
        const now = (await page(location.pathname + location.search)).body.dataset.account;
        if (now !== document.body.dataset.account) { location.reload(); return; }
        box.close();
        then();
      } catch {
        refuse('The connection dropped. Try once more.');
      }
    });
    box.showModal();
  };
})();
