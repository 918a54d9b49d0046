// Keeps a member's card and what it looks like, so that it opens where there is no line. Nothing else of the hall is kept: pages under
// /card/ and the files that they ask for. With a line the newest is shown and kept.
'use strict';
const KEPT = 'card-1';
const MOST = 12; // cards; the oldest leave
const isCard = (url) => /^\/card\/[^/]+$/.test(url.pathname) && url.pathname !== '/card/worker.js';
const isFile = (url) => url.pathname.startsWith('/static/') || /^\/card\/[^/]+\/manifest$/.test(url.pathname);

const trim = async (cache) => {
  const cards = (await cache.keys()).filter((r) => isCard(new URL(r.url)));
  await Promise.all(cards.slice(0, -MOST).map((r) => cache.delete(r)));
};
const card = async (request) => {
  const cache = await caches.open(KEPT);
  try {
    const answer = await fetch(request);
    // a card that is withdrawn is not shown any more
    if (answer.ok) { await cache.put(request.url, answer.clone()); await trim(cache); } else if (answer.status === 404) await cache.delete(request.url);
    return answer;
  } catch (none) {
    const kept = await cache.match(request.url);
    if (!kept) throw none;
    const text = (await kept.text()).replace('data-line="on"', 'data-line="off"');
    return new Response(text, { headers: { 'Content-Type': 'text/html; charset=utf-8', 'Content-Security-Policy': kept.headers.get('Content-Security-Policy') || "default-src 'none'" } });
  }
};
// files carry their hash in the address: what is kept is right
const file = async (request) => {
  const cache = await caches.open(KEPT);
  const kept = await cache.match(request.url);
  if (kept) return kept;
  const answer = await fetch(request);
  if (answer.ok) await cache.put(request.url, answer.clone());
  return answer;
};

self.addEventListener('install', () => self.skipWaiting());
self.addEventListener('activate', (event) => event.waitUntil((async () => {
  await Promise.all((await caches.keys()).filter((k) => k.startsWith('card-') && k !== KEPT).map((k) => caches.delete(k)));
  await self.clients.claim();
})()));
self.addEventListener('fetch', (event) => {
  const { request } = event;
  const url = new URL(request.url);
  if (request.method !== 'GET' || url.origin !== self.location.origin) return;
  if (request.mode === 'navigate' && isCard(url)) event.respondWith(card(request));
  else if (isFile(url)) event.respondWith(file(request));
});
