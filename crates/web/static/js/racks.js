// The wall of the racks looks for changes by itself; without a connection it keeps what it shows and tries again. It fits the screen.
'use strict';
(() => {
  const wall = document.getElementById('main');
  const again = async () => {
    const answer = await fetch(location.href, { credentials: 'same-origin' }).catch(() => null);
    if (!answer || !answer.ok || answer.redirected) return;
    const next = new DOMParser().parseFromString(await answer.text(), 'text/html').getElementById('main');
    if (next && next.innerHTML !== wall.innerHTML) wall.replaceChildren(...next.childNodes);
  };
  const fit = () => {
    const size = Math.min(window.innerWidth / 1920, window.innerHeight / 1080);
    wall.style.transform = `scale(${size})`;
    wall.style.left = `${(window.innerWidth - 1920 * size) / 2}px`;
  };
  window.addEventListener('resize', fit);
  fit();
  setInterval(again, 10000);
})();
