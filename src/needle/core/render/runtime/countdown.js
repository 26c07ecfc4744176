// Countdowns: to a moment, or of the hours that this visitor has.
(() => {
  const end = (box) => {
    if (box.dataset.until) return Number(box.dataset.until);
    const key = `needle-countdown-${box.dataset.id}`;
    let first = Date.now();
    try {
      first = Number(localStorage.getItem(key)) || first;
      localStorage.setItem(key, String(first));
    } catch { /* Without storage the time begins anew at each visit. */ }
    return first + Number(box.dataset.hours) * 3600000;
  };
  const boxes = [...document.querySelectorAll(".countdown[role=timer]")].map((box) => [box, end(box)]);
  const tick = () => {
    for (const [box, until] of boxes) {
      const left = Math.floor((until - Date.now()) / 1000);
      if (left <= 0) {
        box.textContent = box.dataset.ended;
        box.hidden = !box.dataset.ended;
        continue;
      }
      const parts = { days: left / 86400, hours: (left / 3600) % 24, minutes: (left / 60) % 60, seconds: left % 60 };
      for (const part of box.querySelectorAll("[data-unit]")) {
        part.textContent = String(Math.floor(parts[part.dataset.unit])).padStart(2, "0");
      }
      box.classList.add("runs");
    }
  };
  tick();
  setInterval(tick, 1000);
})();
