// Stands on pages made elsewhere: remembers who came from us, and calls in what they reached.
(() => {
  const own = document.currentScript;
  const address = new URL(own.src);
  const kept = `needle ${address.origin}${address.pathname}`;
  let ticket = new URLSearchParams(location.search).get("needle");
  try {
    if (ticket) localStorage.setItem(kept, ticket);
    else ticket = localStorage.getItem(kept);
  } catch {
    // Nothing is kept here: only the page to which the link led can call in.
  }
  if (own.dataset.reached === undefined || !ticket) return;
  address.pathname = address.pathname.replace(/\.js$/, ".gif");
  address.search = new URLSearchParams({ needle: ticket }).toString();
  new Image().src = address.href;
})();
