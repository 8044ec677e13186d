// Bottling: a flavour is dragged onto a bottle, or set by its number; the rack counts what is chosen.
(() => {
  const boxes = () => [...document.querySelectorAll('.plan-box')];
  const choices = () => document.getElementById('choices');
  const keys = () => [...document.querySelectorAll('#choices [name="flavour"]:checked')].map((input) => input.value);

  // Put a flavour into a bottle: its hidden row says so, and the plan is asked anew.
  const put = (place, key) => {
    const rows = [...document.querySelectorAll('#plan > input[name="b"]')];
    if (!rows[place] || !keys().includes(key)) return;
    rows[place].value = rows[place].value.replace(/:.*/, `:${key}`);
    choices().requestSubmit();
  };

  document.addEventListener('dragstart', (event) => {
    const chip = event.target.closest?.('[data-flavour], .flavour-card');
    if (!chip) return;
    event.dataTransfer.setData('text/x-flavour', chip.dataset.flavour || chip.dataset.group);
    event.dataTransfer.effectAllowed = 'copy';
  });
  document.addEventListener('dragover', (event) => {
    const box = event.target.closest?.('.plan-box');
    boxes().forEach((one) => one.classList.toggle('over', one === box));
    if (box) event.preventDefault();
  });
  document.addEventListener('drop', (event) => {
    const box = event.target.closest?.('.plan-box');
    if (!box) return;
    event.preventDefault();
    put(Number(box.dataset.place), event.dataTransfer.getData('text/x-flavour'));
  });

  // Keys on a bottle: 1 to 8 a flavour, arrows the next bottle.
  document.addEventListener('keydown', (event) => {
    const box = event.target.closest?.('.plan-box');
    if (!box || event.ctrlKey || event.metaKey || event.altKey) return;
    const all = boxes();
    const here = all.indexOf(box);
    if (/^[1-8]$/.test(event.key)) {
      const key = keys()[Number(event.key) - 1];
      if (key) { event.preventDefault(); put(Number(box.dataset.place), key); }
    } else if (event.key === 'ArrowRight' || event.key === 'ArrowLeft') {
      event.preventDefault();
      all[(here + (event.key === 'ArrowRight' ? 1 : all.length - 1)) % all.length].focus();
    }
  });

  // After the plan came anew the focus stays on the bottle that was pressed.
  let pressed = null;
  document.addEventListener('htmx:beforeRequest', () => {
    pressed = document.activeElement?.closest?.('.plan-box')?.dataset.place ?? null;
  });
  document.addEventListener('htmx:afterSettle', () => {
    if (pressed !== null) document.querySelector(`.plan-box[data-place="${pressed}"]`)?.focus();
    pressed = null;
    draggable();
  });

  const draggable = () => {
    document.querySelectorAll('#choices [data-flavour], .flavour-card').forEach((one) => { one.draggable = true; });
  };

  document.addEventListener('DOMContentLoaded', draggable);
})();

// The cellar's drawer: it comes with the focus, and gives it back when it is closed.
(() => {
  let from = null;
  const shut = () => {
    const drawer = document.querySelector('[data-drawer]');
    if (!drawer || !document.querySelector('.racks')) return false;
    drawer.outerHTML = '<section id="drawer" hidden></section>';
    document.querySelectorAll('.lot[aria-expanded]').forEach((one) => one.removeAttribute('aria-expanded'));
    from?.focus();
    return true;
  };
  document.addEventListener('htmx:afterSwap', (event) => {
    if (event.detail.target.id !== 'drawer') return;
    from = event.detail.requestConfig?.elt ?? null;
    document.querySelectorAll('.lot[aria-expanded]').forEach((one) => one.removeAttribute('aria-expanded'));
    from?.setAttribute('aria-expanded', 'true');
    const drawer = document.getElementById('drawer');
    drawer?.focus({ preventScroll: true });
    // What was touched stays in sight, just above the drawer.
    setTimeout(() => {
      const lot = from?.getBoundingClientRect(), top = drawer?.getBoundingClientRect().top;
      if (lot && top !== undefined && (lot.bottom > top || lot.top < 0)) {
        window.scrollBy({ top: lot.bottom - top + 14, behavior: 'instant' });
      }
    }, 80);  // until then it has not come to rest at the foot of the window
  });
  document.addEventListener('click', (event) => {
    if (event.target.closest?.('[data-drawer-close]') && shut()) event.preventDefault();
  });
  document.addEventListener('keydown', (event) => { if (event.key === 'Escape' && shut()) event.preventDefault(); });
})();
