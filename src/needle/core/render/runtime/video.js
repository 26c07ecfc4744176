// A video from elsewhere is loaded only when a visitor asks for it.
(() => {
  document.addEventListener("click", (event) => {
    const stand = event.target.closest(".video-stand");
    if (!stand || event.ctrlKey || event.metaKey) return;
    event.preventDefault();
    const file = stand.dataset.file;
    const player = document.createElement(file ? "video" : "iframe");
    player.src = file || stand.dataset.frame;
    player.title = stand.dataset.title;
    if (file) Object.assign(player, { controls: true, autoplay: true });
    else player.allow = "autoplay; fullscreen; picture-in-picture";
    stand.replaceWith(player);
    player.focus();
  });
})();
