// Does what a click asks for, one thing after another.
(() => {
  const part = (id) => document.getElementById(id);
  const doing = {
    open: (id) => needlePopup.swap(part(id)),
    close: (_, origin) => needlePopup.shut(origin.closest("dialog") || document.querySelector("dialog[open]")),
    show: (id) => { const found = part(id); if (found) { found.hidden = false; found.scrollIntoView({ block: "nearest" }); } },
    hide: (id) => { const found = part(id); if (found) found.hidden = true; },
    scroll: (id) => part(id)?.scrollIntoView(),
    play: (id) => {
      const found = part(id);
      found?.querySelector("video")?.play();
      found?.querySelector(".video-stand")?.click();
    },
    goal: (name) => {
      const { page, variant, root, walk, ticket } = document.body.dataset;
      if (walk !== undefined || !page || !location.protocol.startsWith("http")) return;
      fetch(`${root}_needle/goal`, {
        method: "POST", keepalive: true, headers: { "Content-Type": "application/json" },
        body: JSON.stringify({ page, variant, ticket, goal: name }),
      }).catch(() => {});
    },
    go: (address) => { location.href = address; },
  };
  document.addEventListener("click", (event) => {
    const origin = event.target.closest("[data-do]");
    if (!origin || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    for (const [name, value] of JSON.parse(origin.dataset.do)) doing[name](value, origin);
  });
})();
