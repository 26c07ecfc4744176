// Counts a visit once the page is really shown. Nothing is sent in a walk-through.
(() => {
  const { page, variant, root, walk } = document.body.dataset;
  if (walk !== undefined || !page) return;
  const send = () => fetch(`${root}_needle/visit`, {
    method: "POST",
    keepalive: true,
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ page, variant, from: document.referrer, query: location.search }),
  }).catch(() => {});
  if (document.prerendering) document.addEventListener("prerenderingchange", send, { once: true });
  else if (location.protocol.startsWith("http")) send();
})();
