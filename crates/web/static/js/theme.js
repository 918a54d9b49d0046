// Switches between light paper and the dark floor without leaving the page; the link works without this file.
'use strict';
document.addEventListener('click', (event) => {
  const link = event.target.closest('[data-theme-switch]');
  if (!link) return;
  event.preventDefault();
  const next = document.documentElement.dataset.theme === 'dark' ? 'light' : 'dark';
  document.documentElement.dataset.theme = next;
  document.cookie = `theme=${next}; path=/; max-age=34560000; samesite=lax`;
  link.firstChild.textContent = next === 'dark' ? 'Light paper ' : 'Dark floor ';
  link.href = `/theme/${next === 'dark' ? 'light' : 'dark'}`;
});
