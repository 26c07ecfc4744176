// Counts a visit once the page is really shown. Nothing is sent in a walk-through, nor where no host listens.
(() => {
  const { page, variant, root, walk, alone, ticket } = document.body.dataset;
  if (walk !== undefined || alone !== undefined || !page) return;
  const send = () => fetch(`${root}_needle/visit`, {
    method: "POST",
    keepalive: true,
    headers: { "Content-Type": "application/json" },
    body: JSON.stringify({ page, variant, ticket, from: document.referrer, query: location.search }),
  }).then((answer) => document.dispatchEvent(new CustomEvent("needle-visit", { detail: answer })))
    .catch(() => {});
  if (document.prerendering) document.addEventListener("prerenderingchange", send, { once: true });
  else if (location.protocol.startsWith("http")) send();
})();
