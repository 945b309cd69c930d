// Keys of the whole application. Single letters are silent while somebody types, and can be switched off.
(() => {
  'use strict';
  const store = 'junctra-keys';
  const on = () => localStorage.getItem(store) !== 'off';
  const typing = (target) => target.closest('input:not([type=checkbox]):not([type=radio]), textarea, select, [contenteditable]');
  const dialog = () => document.getElementById('keys');
  const places = { b: '/', p: '/packages', l: '/logbook', c: '/catalogue', t: '/practice' };
  let awaitingPlace = false;
  // A hand scanner types a ticket's code, a stroke before it, faster than anybody: also where single keys are switched off.
  const scannerMs = 80;
  let strokeAt = -Infinity;

  function scans(event) {
    const find = document.getElementById('find');
    if (event.key === '/') strokeAt = event.timeStamp;
    else if (find && event.key.length === 1 && event.timeStamp - strokeAt < scannerMs) {
      strokeAt = -Infinity;
      event.preventDefault();
      find.focus();
      find.value = event.key;
      return true;
    }
    return false;
  }

  function step(by) {
    const links = [...document.querySelectorAll('.job-line a')];
    const here = links.findIndex((link) => link.hasAttribute('aria-current'));
    const next = links[here + by];
    if (here >= 0 && next) location.href = next.href;
  }

  function move(by) {
    const rows = [...document.querySelectorAll('[data-row]')];
    if (rows.length === 0) return;
    const at = rows.findIndex((row) => row === document.activeElement || row.contains(document.activeElement));
    const row = rows[at < 0 ? (by > 0 ? 0 : rows.length - 1) : Math.min(rows.length - 1, Math.max(0, at + by))];
    const target = row.querySelector('a, input, button') || row;
    if (target === row) row.tabIndex = -1;
    target.focus();
    row.scrollIntoView({ block: 'nearest' });
  }

  function primary() {
    // Razor writes a false one, too.
    const act = [...document.querySelectorAll('[data-primary]:not([data-primary=False])')].pop();
    if (act && !act.disabled) act.click();
  }

  function open() {
    const box = dialog();
    box.querySelector('[data-keys-switch]').checked = on();
    if (!box.open) box.showModal();
  }

  function others() {
    const box = document.querySelector('details[data-others]');
    if (!box) return;
    box.open = !box.open;
    box.scrollIntoView({ block: 'nearest' });
    box.querySelector('summary').focus();
  }

  const letters = {
    '/': () => document.getElementById('find').focus(),
    n: () => { location.href = '/jobs/new'; },
    g: () => { awaitingPlace = true; },
    '[': () => step(-1),
    ']': () => step(1),
    j: () => move(1),
    k: () => move(-1),
    w: others,
    t: () => document.querySelector('svg.timetable a')?.focus(),
    l: () => { const list = document.getElementById('today'); list?.scrollIntoView(); list?.focus(); },
    u: () => document.querySelector('[data-undo]')?.click(),
    '?': open,
  };
  // "The phone shows …": the answers of the check at hand.
  for (const digit of '123456789') letters[digit] = () => document.querySelector(`[data-answer="${digit}"]`)?.click();

  document.addEventListener('keydown', (event) => {
    if (event.ctrlKey || event.metaKey || event.altKey || event.isComposing) return;
    if (event.key === 'Escape' && typing(event.target)) { event.target.blur(); return; }
    if (typing(event.target) || dialog()?.open) return;
    if (scans(event)) return;
    // Enter on a link or a button is that link's or button's own.
    if (event.key === 'Enter') {
      if (!event.target.closest('a, button, summary, input')) { event.preventDefault(); primary(); }
      return;
    }
    if (event.key === ' ') {
      const count = document.querySelector('[data-count]');
      if (count && !event.target.closest('a, button, summary, input')) { event.preventDefault(); count.click(); }
      return;
    }
    if (!on() && event.key !== '?') return;
    if (awaitingPlace) {
      awaitingPlace = false;
      if (places[event.key]) location.href = places[event.key];
      return;
    }
    const act = letters[event.key];
    if (act) { event.preventDefault(); act(); }
  });

  document.addEventListener('click', (event) => {
    if (event.target.closest('[data-keys-open]')) open();
    if (event.target.closest('[data-open-others]')) others();
    if (event.target.closest('[data-print]')) window.print();
    const row = event.target.closest('tr[data-row]');
    if (row && !event.target.closest('a, button, input, label, form') && !String(getSelection())) row.querySelector('a.row-link')?.click();
  });

  document.addEventListener('change', (event) => {
    if (event.target.matches('[data-keys-switch]')) localStorage.setItem(store, event.target.checked ? 'on' : 'off');
  });

  // What an address leads to is open, and whatever it lies in.
  for (let at = document.getElementById(location.hash.slice(1))?.closest('details'); at; at = at.parentElement.closest('details')) at.open = true;

  // An act that changes something is sent once, however often its button is hit.
  document.addEventListener('submit', (event) => {
    if (event.target.method !== 'post') return;
    if (event.target.dataset.sent) { event.preventDefault(); return; }
    event.target.dataset.sent = 'yes';
  });
  window.addEventListener('pageshow', () => document.querySelectorAll('form[data-sent]').forEach((form) => delete form.dataset.sent));
})();
