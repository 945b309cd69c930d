// The bench day: its line of now moves, and the page is fetched anew once the timetable is some minutes old and nobody is at it.
document.addEventListener('alpine:init', () => {
  Alpine.data('timetable', () => ({
    init() {
      this.walk();
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
    // Along a line with left and right, to the line above or below with up and down: whatever lies nearest.
    walk() {
      const svg = this.$root.querySelector('svg.timetable');
      svg?.addEventListener('keydown', event => {
        const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[event.key];
        const from = event.target.closest('a');
        if (!step || !from || event.altKey || event.ctrlKey || event.metaKey) return;
        event.preventDefault();
        const place = link => { const box = link.getBoundingClientRect(); return { link, x: box.left, y: box.top + box.height / 2 }; };
        const at = place(from);
        const others = [...svg.querySelectorAll('a')].filter(link => link !== from).map(place);
        const nearest = others
          .filter(one => step[0] ? Math.abs(one.y - at.y) < 6 && (one.x - at.x) * step[0] > 0 : (one.y - at.y) * step[1] >= 6)
          .sort((one, other) => step[0]
            ? Math.abs(one.x - at.x) - Math.abs(other.x - at.x)
            : Math.abs(one.y - at.y) - Math.abs(other.y - at.y) || Math.abs(one.x - at.x) - Math.abs(other.x - at.x))[0];
        nearest?.link.focus();
      });
    },
  }));
});
