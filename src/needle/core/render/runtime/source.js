// Keeps where this visit came from, so that a form on a later page still knows it.
const needleSource = (() => {
  const now = { query: location.search, referrer: document.referrer, first: location.href };
  try {
    const held = JSON.parse(sessionStorage.getItem("needle-source") ?? "null");
    const inner = document.referrer.startsWith(`${location.origin}/`);
    if (held && (inner || !location.search)) return held;
    sessionStorage.setItem("needle-source", JSON.stringify(now));
  } catch { /* Without storage each page knows its own address only. */ }
  return now;
})();
