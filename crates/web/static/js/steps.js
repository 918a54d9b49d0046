// Where the steps of a class do not fit beside each other, the open one is in view.
'use strict';
(() => {
  const show = () => {
    const here = document.querySelector('#steps .is-here');
    const list = here && here.parentElement;
    if (list && list.scrollWidth > list.clientWidth) list.scrollLeft = here.offsetLeft - (list.clientWidth - here.offsetWidth) / 2;
  };
  document.addEventListener('htmx:afterSettle', show);
  show();
})();
