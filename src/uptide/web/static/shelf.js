// The state of the shelf's pages: what is asked, which oil is looked at, how near the chart is. No figure is made here.
"use strict";

document.addEventListener("alpine:init", () => {
  // Asks again as one types or marks, and keeps the address that of the view.
  // The blend that was last on the bench: what is found goes into it by one tap.
  Alpine.data("openBlend", () => ({
    id: "",
    name: "",
    init() {
      const open = JSON.parse(localStorage.getItem("uptide.open") || "null");
      if (open) Object.assign(this, open);
    },
    get words() { return "Into " + this.name; },
    get href() { return "/blends/" + this.id + "?add=" + encodeURIComponent(this.$root.dataset.row); },
  }));

  Alpine.data("filter", () => ({
    asked: 0,
    init() {
      this.$root.addEventListener("input", () => this.ask());
    },
    async ask() {
      const number = ++this.asked;
      const said = [...new FormData(document.getElementById("filter"))].filter(([, value]) => value);
      const address = location.pathname + (said.length ? "?" + new URLSearchParams(said) : "");
      const answer = await fetch(address, { headers: { "X-Filter": "fragment" } });
      const html = await answer.text();
      if (number !== this.asked || !answer.ok) return;
      swapIn(html);
      history.replaceState(null, "", address);
    },
  }));

  // The first answer stands at once; the others, and how much better any could be, come as they are found.
  Alpine.data("answers", () => ({
    init() {
      const events = new EventSource(this.$root.dataset.from);
      events.addEventListener("answers", (event) => swapIn(event.data));
      events.addEventListener("done", () => events.close());
      events.addEventListener("error", () => {
        events.close();
        const status = this.$root.querySelector("[role=status]");
        if (status) status.textContent = this.$root.dataset.lost;
      });
      addEventListener("pagehide", () => events.close());
    },
  }));

  // A target is dragged over a picture; where it is let go is all that is sent, and the server says what lies there.
  const pointIn = (picture, target, event) => {
    const at = new DOMPoint(event.clientX, event.clientY).matrixTransform(picture.getScreenCTM().inverse());
    target.setAttribute("transform", "translate(" + at.x + " " + at.y + ")");
    return at;
  };

  Alpine.data("reach", () => ({
    at: null,
    point(event) { this.at = pointIn(this.$root, this.$refs.target, event); },
    aim(event) {
      this.$root.setPointerCapture(event.pointerId);
      this.point(event);
    },
    move(event) { if (this.at) this.point(event); },
    leave() {
      this.at = null;
      this.$refs.target.setAttribute("transform", "translate(-20 -20)");
    },
    go() {
      if (this.at) location.assign(this.$root.dataset.here + "&px=" + this.at.x + "&py=" + this.at.y);
    },
  }));

  const ARROWS = { ArrowLeft: "left", ArrowRight: "right", ArrowUp: "up", ArrowDown: "down" };
  const NEAREST = 4;

  Alpine.data("oilchart", () => ({
    zoom: 1,
    from: null,
    moved: false,
    aiming: false,
    at: null,

    get chart() { return this.$root.querySelector("#chart"); },

    key(event) {
      const oil = event.target.closest("a.oil");
      if (event.key === "+" || event.key === "=") this.closer();
      else if (event.key === "-") this.farther();
      else if (event.key === "0") this.whole();
      else if (oil && ARROWS[event.key]) this.step(oil.dataset[ARROWS[event.key]]);
      else if (oil && event.key === " ") this.mark(oil.dataset.key);
      else return;
      event.preventDefault();
    },

    step(key) {
      const next = key && document.getElementById("at-" + key);
      if (!next) return;
      for (const other of this.chart.querySelectorAll("a.oil[tabindex='0']")) other.tabIndex = -1;
      next.setAttribute("tabindex", "0");
      next.focus({ preventScroll: true });
      this.bringIn(next);
    },

    mark(key) {
      const box = document.querySelector("#about-" + CSS.escape(key) + " input[type=checkbox]");
      box.checked = !box.checked;
      document.getElementById("at-" + key).classList.toggle("marked", box.checked);
    },

    look(event) { this.show(event.currentTarget); },
    hover(event) { if (!this.from) this.show(event.currentTarget); },

    show(oil) {
      for (const lit of this.chart.querySelectorAll(".lit")) lit.classList.remove("lit");
      oil.classList.add("lit");
      document.getElementById("smudge-" + oil.dataset.key).classList.add("lit");
      const chosen = "about-" + oil.dataset.key;
      for (const about of this.$root.querySelectorAll(".about")) about.hidden = about.id !== chosen;
    },

    // The first click looks at an oil and keeps it; a second one on the same oil opens its page.
    pick(event) {
      if (this.moved) { event.preventDefault(); return; }
      const oil = event.currentTarget;
      if (oil.classList.contains("picked") || event.detail === 0) return; // Enter is meant at once
      event.preventDefault();
      for (const other of this.chart.querySelectorAll(".picked")) other.classList.remove("picked");
      oil.classList.add("picked");
      this.show(oil);
    },

    closer() { this.scale(2); },
    farther() { this.scale(0.5); },
    whole() { this.scale(1 / this.zoom); },

    wheel(event) {
      if (!event.ctrlKey) return;
      event.preventDefault();
      if (Math.abs(event.deltaY) > 2) this.scale(event.deltaY < 0 ? 2 : 0.5);
    },

    scale(factor) {
      const zoom = Math.min(NEAREST, Math.max(1, this.zoom * factor));
      const box = this.chart.viewBox.baseVal;
      const lit = this.chart.querySelector("a.oil.lit .dot");
      const place = lit ? lit.getBBox() : { x: box.x + box.width / 2, y: box.y + box.height / 2 };
      const width = box.width * this.zoom / zoom,
        height = box.height * this.zoom / zoom;
      this.zoom = zoom;
      this.chart.dataset.zoom = String(zoom);
      this.move(place.x - width / 2, place.y - height / 2, width, height);
    },

    move(x, y, width, height) {
      const full = { width: width * this.zoom, height: height * this.zoom };
      const left = Math.min(Math.max(0, x), full.width - width),
        top = Math.min(Math.max(0, y), full.height - height);
      this.chart.setAttribute("viewBox", [left, top, width, height].join(" "));
    },

    bringIn(oil) {
      const box = this.chart.viewBox.baseVal,
        dot = oil.querySelector(".dot").getBBox();
      const rim = box.width / 8;
      const within = (at, start, size) => at > start + rim && at < start + size - rim;
      if (within(dot.x, box.x, box.width) && within(dot.y, box.y, box.height)) return;
      this.move(dot.x - box.width / 2, dot.y - box.height / 2, box.width, box.height);
    },

    turn() { this.aiming = !this.aiming; },

    grab(event) {
      this.moved = this.aiming;
      if (this.aiming) {
        this.chart.setPointerCapture(event.pointerId);
        this.at = pointIn(this.chart, this.$refs.target, event);
        return;
      }
      if (this.zoom === 1) return;
      const box = this.chart.viewBox.baseVal;
      this.from = { x: event.clientX, y: event.clientY, left: box.x, top: box.y };
    },

    drag(event) {
      if (this.at) this.at = pointIn(this.chart, this.$refs.target, event);
      if (!this.from) return;
      const box = this.chart.viewBox.baseVal,
        unit = box.width / this.chart.getBoundingClientRect().width;
      const across = (event.clientX - this.from.x) * unit,
        down = (event.clientY - this.from.y) * unit;
      if (Math.abs(across) + Math.abs(down) > 4 * unit) this.moved = true;
      this.move(this.from.left - across, this.from.top - down, box.width, box.height);
    },

    leave() {
      this.from = this.at = null;
      this.$refs.target.setAttribute("transform", "translate(-20 -20)");
    },

    release() {
      this.from = null;
      if (this.at) location.assign(this.chart.dataset.aim + "?px=" + this.at.x + "&py=" + this.at.y);
    },
  }));
});
