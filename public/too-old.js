// For browsers that could not even read the app: plain, old script. Says so, instead of an empty page.
(function () {
  var needed = [
    window.Worker,
    window.PointerEvent,
    window.ResizeObserver,
    window.AbortController,
    window.createImageBitmap,
    Object.hasOwn,
    Array.prototype.findLast,
    window.CSS && CSS.supports('inset', '0'),
  ];
  for (var i = 0; i < needed.length; i++) {
    if (needed[i]) continue;
    document.getElementById('too-old').hidden = false;
    // Without it the app does not start.
    document.getElementById('root').remove();
    return;
  }
})();
