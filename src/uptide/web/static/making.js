// The bench of a batch: what the scale says comes as HTML, worded by the server. No figure is made here.
"use strict";

document.addEventListener("alpine:init", () => {
  Alpine.data("weigh", () => ({
    stopped: false,
    lock: null,

    init() {
      const events = new EventSource(this.$root.dataset.from);
      events.addEventListener("now", (event) => {
        const live = document.getElementById("live");
        if (live) live.innerHTML = event.data;
      });
      events.addEventListener("changed", () => location.reload());
      events.addEventListener("counts", (event) => this.count(event.data));
      addEventListener("pagehide", () => events.close());
      addEventListener("keydown", (event) => this.key(event));
      // Where the browser can, the screen stays on: hands are oily.
      if (navigator.wakeLock) {
        navigator.wakeLock.request("screen").then((lock) => { this.lock = lock; }, () => {});
      }
    },

    count(seconds) {
      const said = document.getElementById("counts");
      if (!said) return;
      if (!seconds) this.stopped = false;
      said.textContent = seconds && !this.stopped && seconds !== "now" ? said.dataset.in + seconds + said
        .dataset.seconds : "";
      const form = document.getElementById("by-scale");
      if (seconds === "now" && form && !this.stopped) {
        this.stopped = true;
        form.requestSubmit(form.querySelector("[data-key=Enter]"));
      }
    },

    stop() {
      this.stopped = true;
      document.getElementById("counts").textContent = "";
    },

    key(event) {
      if (event.target.closest("input, select, textarea, button, a")) return;
      const button = this.$root.querySelector("[data-key='" + event.key + "']");
      if (!button) return;
      event.preventDefault();
      button.click();
    },

    // Something is poured on the practice scale; the bench stays where it is once it follows one.
    async pour(event) {
      const form = event.target;
      if (!document.getElementById("live")) {
        const said = document.createElement("input");
        Object.assign(said, { type: "hidden", name: "grams", value: event.submitter.value });
        form.append(said);
        form.submit();
        return;
      }
      const said = new FormData(form, event.submitter);
      await fetch(form.action, { method: "POST", body: said, headers: { "X-Filter": "fragment" } });
    },
  }));
});
