// Switches between light paper and the dark floor without leaving the page; the link works without this file.
'use strict';
const dark = () => {
  const theme = document.documentElement.dataset.theme;
  return theme === 'dark' || (theme === 'system' && matchMedia('(prefers-color-scheme: dark)').matches);
};
const say = (link) => {
  link.firstChild.textContent = dark() ? 'Light paper ' : 'Dark floor ';
  link.href = `/theme/${dark() ? 'light' : 'dark'}`;
};
// until somebody chooses, pages look as the machine does
document.querySelectorAll('[data-theme-switch]').forEach(say);
matchMedia('(prefers-color-scheme: dark)').addEventListener('change', () => document.querySelectorAll('[data-theme-switch]').forEach(say));
document.addEventListener('click', (event) => {
  const link = event.target.closest('[data-theme-switch]');
  if (!link) return;
  event.preventDefault();
  const next = dark() ? 'light' : 'dark';
  document.documentElement.dataset.theme = next;
  document.cookie = `theme=${next}; path=/; max-age=34560000; samesite=lax`;
  say(link);
});
