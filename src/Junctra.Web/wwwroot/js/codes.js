// Says what a code reads as while it is typed. A near hit is put into the field only when a person chooses it.
(() => {
  'use strict';
  const wait = 250;
  let timer = 0;
  let asked = 0;

  async function check(field) {
    const mine = ++asked;
    const place = document.getElementById('code-read');
    if (!place) return;
    const text = field.value.trim();
    if (text.length === 0) { place.replaceChildren(); return; }
    try {
      const answer = await fetch(`${field.dataset.codeCheck}&text=${encodeURIComponent(text)}`, { headers: { Accept: 'text/html' } });
      // A redirect leads to the sign-in: the form itself will say so when it is sent.
      if (!answer.ok || answer.redirected || mine !== asked) return;
      const parsed = new DOMParser().parseFromString(await answer.text(), 'text/html');
      place.replaceChildren(...parsed.body.childNodes);
    } catch { /* The form is checked again when it is sent. */ }
  }

  document.addEventListener('input', (event) => {
    const field = event.target.closest('[data-code-check]');
    if (!field) return;
    clearTimeout(timer);
    timer = setTimeout(() => check(field), wait);
  });

  document.addEventListener('click', (event) => {
    const use = event.target.closest('[data-code-use]');
    if (!use) return;
    const field = document.querySelector('[data-code-check]') || document.getElementById('value');
    field.value = use.dataset.codeUse;
    field.focus();
    if (field.dataset.codeCheck) check(field);
  });
})();
