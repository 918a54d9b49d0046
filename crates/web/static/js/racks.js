// The wall of the racks looks for changes by itself; without a connection it keeps what it shows and tries again.
'use strict';
(() => {
  const wall = document.getElementById('main');
  const again = async () => {
    const answer = await fetch(location.href, { credentials: 'same-origin' }).catch(() => null);
    if (!answer || !answer.ok || answer.redirected) return;
    const next = new DOMParser().parseFromString(await answer.text(), 'text/html').getElementById('main');
    if (next && next.innerHTML !== wall.innerHTML) wall.replaceChildren(...next.childNodes);
  };
  setInterval(again, 10000);
})();
