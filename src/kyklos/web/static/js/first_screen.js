/* On the phone's first screen: the worker that keeps pages is told what lives. It runs only where the browser trusts the address. */
(() => {
  "use strict";
  const { worker, scope } = document.currentScript.dataset;
  if (!("serviceWorker" in navigator) || !isSecureContext) return;
  const own = (url) => url && new URL(url, location.href).origin === location.origin;
  const tell = async () => {
    const ready = await navigator.serviceWorker.ready;
    const things = [...document.querySelectorAll("link[rel=stylesheet], link[rel=icon], script[src], img[src]")]
      .map((one) => one.href || one.src).filter((url) => own(url) && url.includes("v="));
    const dials = [...document.querySelectorAll(".stop a.stop-dial")].map((one) => new URL(one.href).pathname);
    const pages = location.pathname === scope ? [scope, ...new Set(dials)] : [];
    ready.active?.postMessage({ pages, things: [...new Set(things)] });
  };
  window.addEventListener("load", async () => {
    try {
      await navigator.serviceWorker.register(worker, { scope });
      if (document.querySelector("[data-as-of]")) return;
      setTimeout(tell, 400); // after what the page itself still asks for
      document.addEventListener("visibilitychange", () => { if (document.visibilityState === "visible") tell(); });
    } catch {
      /* not trusted here: nothing is worse than without it */
    }
  });
})();
