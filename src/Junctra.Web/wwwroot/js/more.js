// A long list arrives in pieces: the next when its end comes into sight. Without this the link below it brings all of it.
for (const end of document.querySelectorAll('[data-more]')) {
  const list = document.getElementById(end.dataset.list);
  const total = Number(end.dataset.total);
  let isAsking = false;
  const watch = new IntersectionObserver(async ([seen]) => {
    if (!seen.isIntersecting || isAsking) return;
    isAsking = true;
    const answer = await fetch(`${end.dataset.more}&from=${list.tBodies.length}`).catch(() => null);
    const piece = document.createElement('template');
    if (answer?.ok && !answer.redirected) piece.innerHTML = await answer.text();
    const rows = [...piece.content.querySelectorAll('tbody')];
    list.append(...rows);
    // Whoever was signed out, or offline, still has the link.
    if (rows.length === 0 || list.tBodies.length >= total) watch.disconnect();
    if (list.tBodies.length >= total) end.remove();
    isAsking = false;
    // It is told of changes only, and the end may still be in sight.
    watch.unobserve(end);
    if (end.isConnected && rows.length > 0) watch.observe(end);
  }, { rootMargin: '400px' });
  watch.observe(end);
}
