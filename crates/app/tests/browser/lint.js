// Lists what people could not read on the open page: small type, weak contrast, text cut off, pages wider than the screen.
const out = [];
const seen = (el) => {
  const r = el.getBoundingClientRect();
  const s = getComputedStyle(el);
  return r.width > 1 && r.height > 1 && s.visibility !== 'hidden' && Number(s.opacity) > 0;
};
const own = (el) => [...el.childNodes].some((n) => n.nodeType === 3 && n.textContent.trim());
const part = (v) => { const x = v / 255; return x <= 0.03928 ? x / 12.92 : ((x + 0.055) / 1.055) ** 2.4; };
const light = (c) => { const [r, g, b] = c.match(/[\d.]+/g).map(Number); return 0.2126 * part(r) + 0.7152 * part(g) + 0.0722 * part(b); };
const ground = (el) => {
  for (let e = el; e; e = e.parentElement) {
    const b = getComputedStyle(e).backgroundColor;
    const m = b.match(/[\d.]+/g);
    if (m && (m.length < 4 || Number(m[3]) > 0.5)) return b;
  }
  return 'rgb(255,255,255)';
};
for (const el of document.querySelectorAll('body *')) {
  if (!(el instanceof HTMLElement) || !seen(el) || el.closest('.is-sr-only, .hl-marks, .hl-skip, dialog:not([open])')) continue;
  const s = getComputedStyle(el);
  const words = el.textContent.trim().slice(0, 40);
  if (own(el)) {
    if (parseFloat(s.fontSize) < 11.5) out.push(`small ${s.fontSize}: ${words}`);
    if (!el.disabled) {
      const [a, b] = [light(s.color), light(ground(el))];
      const ratio = (Math.max(a, b) + 0.05) / (Math.min(a, b) + 0.05);
      if (ratio < 4.5) out.push(`contrast ${ratio.toFixed(2)}: ${words}`);
    }
  }
  const hides = s.overflowX === 'hidden' || s.overflowX === 'clip';
  if (hides && !el.matches('input, textarea, select') && s.textOverflow !== 'ellipsis' && el.scrollWidth > el.clientWidth + 1) out.push(`cut: ${el.className} ${words}`);
}
const page = document.documentElement;
if (page.scrollWidth > window.innerWidth + 1) out.push(`the page is ${page.scrollWidth} px wide in ${window.innerWidth}`);
return out;
