// A link is copied by a press; without a clipboard it is there to be opened.
'use strict';
(() => {
  if (!navigator.clipboard) return;
  document.querySelectorAll('[data-copy]').forEach((button) => {
    button.hidden = false;
    button.addEventListener('click', async () => {
      const done = await navigator.clipboard.writeText(new URL(button.dataset.copy, location.href).href).then(() => true, () => false);
      const csrf = document.querySelector('input[name=csrf]');
      // it is kept that it was sent
      if (done && button.dataset.sent) htmx.ajax('POST', button.dataset.sent, { swap: 'none', values: { csrf: csrf.value, member: button.dataset.member } });
      const said = document.getElementById('copied');
      said.textContent = done ? `The link of ${button.dataset.of} is copied.` : 'It could not be copied. Open the card and copy its address.';
    });
  });
})();
