// The light of the bench, before anything is drawn: as somebody chose it at this browser, else as the computer has it.
(() => {
  const store = 'junctra-theme', dark = matchMedia('(prefers-color-scheme: dark)');
  const chosen = () => { try { return localStorage.getItem(store) ?? 'auto'; } catch { return 'auto'; } };
  const show = () => { document.documentElement.dataset.theme = chosen() === 'night' || (chosen() === 'auto' && dark.matches) ? 'night' : 'day'; };
  show();
  dark.addEventListener('change', show);
  addEventListener('storage', show);
  addEventListener('DOMContentLoaded', () => {
    const choice = document.querySelector('[data-theme-switch]');
    if (!choice) return;
    choice.querySelector(`[value="${chosen()}"]`).checked = true;
    choice.addEventListener('change', (event) => { localStorage.setItem(store, event.target.value); show(); });
  });
})();
