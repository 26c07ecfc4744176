// Inside a frame on a page that was made elsewhere: tells that page how high this one is, when
// it is closed or sent, and where to go on. What is told is no secret, and is checked there.
(() => {
  if (window.parent === window) return;
  const tell = (what) => window.parent.postMessage({ needle: what }, "*");
  const box = document.querySelector("main");
  const measure = () => tell({ height: Math.ceil(box.getBoundingClientRect().height) });
  new ResizeObserver(measure).observe(box);
  addEventListener("load", measure);
  for (const dialog of document.querySelectorAll("dialog")) {
    dialog.addEventListener("close", () => tell({ closed: true }));
  }
  addEventListener("keydown", (event) => {
    const held = document.querySelector("dialog[data-held]");
    if (event.key === "Escape" && !held) tell({ closed: true });
  });
  addEventListener("needle:sent", (event) => tell({ sent: true, go: event.detail.go ?? "" }));
  // Links lead on in the whole window: this frame is no place to read a page.
  for (const link of document.querySelectorAll("a[href]:not([href^='#'])")) link.target = "_top";
})();
