// The bench day: its line of now moves, and the page is fetched anew once the timetable is some minutes old and nobody is at it.
document.addEventListener('alpine:init', () => {
  Alpine.data('timetable', () => ({
    init() {
      const now = this.$root.querySelector('.now');
      if (!now) return;
      const since = Number(now.dataset.now);
      const loaded = Date.now();
      const tick = () => {
        now.setAttribute('transform', `translate(${((Date.now() - since) / 60000) * Number(now.dataset.minute)} 0)`);
        const idle = document.activeElement === document.body && !document.querySelector('dialog[open]');
        if (Date.now() - loaded > 120000 && idle && scrollY === 0) location.reload();
      };
      tick();
      setInterval(tick, 15000);
    },
  }));
});
