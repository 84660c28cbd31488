// The state of the page, and nothing else: every figure is worked out by the server and swapped in as HTML.
"use strict";

// Fields beside the rows that undo puts back.
const STORED = ["name", "seen", "product", "container_kind", "container_ml", "note", "place", "celsius", "light",
  "glass", "material", "opened", "ml_a_use", "uses_a_week", "wearer", "region", "for_sale", "placed_on", "night_only"
];

const PAUSE = 160; // ms without a key, after which what was typed is read

// A fold that a person opened stays open, what opens over the rows closes; what was uncovered once stays so.
const KEPT_OPEN = {
  beforeAttributeUpdated: (name, node, how) =>
    name !== "x-cloak" && !(name === "open" && how === "remove" && node.matches("details:not(.from)")),
};

/** Change the parts of the page that an answer holds into what it says of them; what stayed the same is not touched.
    While one types, what stands in the field under the caret is newer than the answer, and stays. */
function swapIn(html, typing) {
  const answer = new DOMParser().parseFromString(html, "text/html");
  for (const fresh of answer.querySelectorAll("[data-swap]")) {
    const stale = document.getElementById(fresh.id);
    if (!stale || fresh.parentElement.closest("[data-swap]")) continue; // gone, or changed with what holds it
    // A picture that is stepped through was set up from what it said: another one takes its place whole.
    for (const live of stale.querySelectorAll("[x-data][id]")) live.id = "before-" + live.id;
    Idiomorph.morph(stale, fresh, { ignoreActiveValue: typing, callbacks: KEPT_OPEN });
  }
}

/** The stamps of the parts that stand here as the server drew them: it need not send those again. */
function known(root) {
  const asDrawn = (field) => field.value === field.defaultValue && field.checked === field.defaultChecked;
  return [...root.querySelectorAll("[data-swap]:not([data-swap=''])")]
    .filter((part) => [...part.querySelectorAll("input, textarea")].every(asDrawn) && !part.querySelector("select"))
    .map((part) => part.dataset.swap).join(" ");
}

/** Where the person is, and what stands there: an answer that comes later finds them there, or gone on. */
function hand() {
  return { field: document.activeElement, value: document.activeElement.value };
}

/** Whether the person went on since: to another field, or by typing in the same. */
function wentOn({ field, value }) {
  const now = document.activeElement;
  return now === field ? now.value !== value : now.matches("input, textarea, select");
}

/** The number of this tab, kept as long as it is open. */
function tab() {
  const random = Math.random().toString(36).slice(2);
  if (!sessionStorage.getItem("uptide.tab")) sessionStorage.setItem("uptide.tab", Date.now().toString(36) + random);
  return sessionStorage.getItem("uptide.tab");
}

/** What of a state was typed: not which version it was typed on. */
function typed(state) {
  const fields = new URLSearchParams(state);
  for (const name of ["seen", "seen_name", "version"]) fields.delete(name);
  return fields.toString();
}

/** What a stored text says; nothing when it says nothing. */
function parsed(text) {
  try { return JSON.parse(text); } catch { return null; }
}

document.addEventListener("alpine:init", () => {
  Alpine.data("bench", () => ({
    past: [],
    future: [],
    current: "",
    busy: false,
    waiting: null,
    saving: null,
    draft: null,
    typedAt: -Infinity,
    pause: 0,

    get canUndo() { return this.past.length > 0; },
    get canRedo() { return this.future.length > 0; },
    get hasDraft() { return this.draft !== null; },
    get draftWhen() { return this.draft ? new Date(this.draft.at).toLocaleString() : ""; },
    get draftsKey() { return "uptide.draft." + this.$root.dataset.key; },
    // A tab has its own: two that write the same blend lose nothing.
    get draftKey() { return this.draftsKey + "." + tab(); },

    init() {
      const form = this.$root;
      this.current = this.snapshot();
      this.savedState = this.current;
      this.findDraft();
      form.addEventListener("submit", (event) => this.submitted(event));
      form.addEventListener("input", (event) => this.edited(event));
      form.addEventListener("change", (event) => this.changed(event));
      form.addEventListener("keydown", (event) => this.key(event));
      form.addEventListener("paste", (event) => this.pasted(event));
      // What is folded is drawn when it is opened.
      form.addEventListener("toggle", (event) => this.toggled(event.target), true);
      document.addEventListener("click", (event) => { // one panel at a time, and none after a click elsewhere
        for (const open of document.querySelectorAll("details.from[open]")) {
          if (!open.contains(event.target)) open.open = false;
        }
      });
      const open = { id: form.dataset.key, name: form.querySelector("#name").value };
      if (open.id !== "new") localStorage.setItem("uptide.open", JSON.stringify(open));
      const asked = form.querySelector("#new");
      if (asked && asked.value) this.send("add");
    },

    /** All fields but the token, as one text: what undo and the draft keep. */
    snapshot() {
      const data = new FormData(this.$root);
      for (const name of ["token", "share", "picture"]) data.delete(name);
      return new URLSearchParams(data).toString();
    },

    edited(event) {
      if (event.target.name === "share" || event.target.name === "note") return;
      this.keepDraft();
      this.typing();
    },

    /** Ask for what a fold or a verdict holds, unless it is there: swapping in what was open opens it once more. */
    toggled(details) {
      if (details.matches(".fold[open], .verdict[open]:not(:has(.working))")) this.send("");
    },

    /** The first letter is answered at once, those that follow in one go, after a pause. */
    typing() {
      const idle = performance.now() - this.typedAt > PAUSE;
      this.typedAt = performance.now();
      clearTimeout(this.pause);
      if (idle) this.send("");
      else this.pause = setTimeout(() => this.send(""), PAUSE);
    },

    changed(event) {
      const target = event.target;
      if (target.name === "share") return this.send(target.dataset.op);
      if (target.name === "picture") document.cookie = "picture=" + target.value +
        ";path=/;max-age=31536000;samesite=strict";
      if (target.name === "typed" || STORED.includes(target.name)) {
        this.remember();
      }
    },

    key(event) {
      const target = event.target;
      if (event.key === "Enter" && !event.shiftKey && (target.name === "new" || target.name === "typed")) {
        event.preventDefault();
        this.send("add", target.name === "new" ? "new" : target.id);
      } else if (event.key === "Enter" && target.name === "share") {
        event.preventDefault();
        this.send(target.dataset.op);
      } else if (event.key === "Escape") {
        this.closePanel(target);
      } else if (event.key === "ArrowDown" || event.key === "ArrowUp") {
        this.step(event);
      } else if (event.key === "z" && (event.ctrlKey || event.metaKey) && !target.matches(
          "input, textarea")) {
        event.preventDefault();
        if (event.shiftKey) this.redo();
        else this.undo();
      }
    },

    /** What is open over the rows closes, and what opened it has the focus again. */
    closePanel(target) {
      const open = target.closest("details.from[open]") || document.querySelector("details.from[open]");
      if (!open) return;
      open.open = false;
      open.querySelector("summary").focus();
    },

    /** Up and down go from row to row. */
    step(event) {
      if (event.target.name !== "typed" && !(event.target.name === "new" && !event.target.value)) return;
      const fields = [...this.$root.querySelectorAll("input[name=typed], #new")];
      const next = fields[fields.indexOf(event.target) + (event.key === "ArrowDown" ? 1 : -1)];
      if (next) {
        event.preventDefault();
        next.focus();
      }
    },

    pasted(event) {
      const text = event.clipboardData.getData("text/plain");
      const many = text.includes("\n") || (event.target.name === "new" && /[,;]/.test(text));
      if (!many || !["new", "typed"].includes(event.target.name)) return;
      event.preventDefault();
      const entry = this.$root.querySelector("#new");
      entry.value = [entry.value, text].filter(Boolean).join("\n");
      this.send("add", "new");
    },

    submitted(event) {
      const button = event.submitter;
      if (!button || button.name !== "op") {
        if (!button || !("save" in button.dataset)) return;
        if (this.busy) { // what was just asked for is not on the sheet yet: it is saved with it
          event.preventDefault();
          this.saving = button;
        } else {
          this.sent();
        }
        return;
      }
      event.preventDefault();
      this.send(button.value, this.nearest(button.value));
    },

    /** The field that has the focus once a button has done its work: the row it was about, where that stands then. */
    nearest(op) {
      const [name, row] = op.split(":");
      if (name === "add") return "new";
      if (!/^\d+$/.test(row || "")) return "";
      return "typed-" + (Number(row) + (name === "down" ? 1 : name === "up" ? -1 : 0));
    },

    /** Ask the server to read the sheet; while one answer is under way only the newest question waits. */
    async send(op, focus, body, at = hand()) {
      clearTimeout(this.pause); // what is sent now holds what was waited for
      const data = body || new FormData(this.$root);
      // What is added is what stood there when it was asked for, not what was begun after it.
      const entry = document.getElementById("new");
      const adds = op === "add" && at.field === entry;
      if (adds) data.set("new", at.value);
      data.set("op", op);
      data.set("known", known(document));
      for (const open of this.$root.querySelectorAll(".fold[open], .verdict[open]")) {
        data.append("open", open.id.replace(/^fold-/, ""));
      }
      if (this.busy) {
        if (!this.waiting || op || !this.waiting.op) this.waiting = { op, focus, body, at };
        return;
      }
      this.busy = true;
      try {
        const body = new URLSearchParams(data);
        const answer = await fetch("/sheet", { method: "POST", body, headers: { "X-Sheet": "fragment" } });
        const html = await answer.text();
        if (!answer.ok) throw new Error(answer.status + " " + answer.statusText);
        const gone = wentOn(at);
        swapIn(html, !op || gone);
        if (gone && adds && entry.value.startsWith(at.value)) entry.value = entry.value.slice(at.value
          .length);
        if (op && op !== "restore") this.remember();
        if (op.startsWith("remove:")) this.offerBack();
        if (focus && !gone) {
          const field = document.getElementById(focus) || document.getElementById("new");
          // By itself a browser may bring it to the middle, and the answer out of sight.
          field.focus({ preventScroll: true });
          field.scrollIntoView({ block: "nearest" });
        }
        this.$root.dispatchEvent(new CustomEvent("uptide:painted", { bubbles: true }));
      } catch (problem) {
        this.saving = null;
        const place = document.getElementById("remarks");
        place.dataset.swap = ""; // no longer as the server drew it
        place.textContent = "This could not be read just now (" + problem.message +
          "). What you typed is kept on this page.";
      } finally {
        this.busy = false;
        if (this.waiting) {
          const next = this.waiting;
          this.waiting = null;
          this.send(next.op, next.focus, next.body, next.at);
        } else if (this.saving) {
          const button = this.saving;
          this.saving = null;
          this.$root.requestSubmit(button);
        }
      }
    },

    /** What was just taken out can be put back where it is missed. */
    offerBack() {
      const back = document.createElement("button");
      back.type = "button";
      back.className = "btn btn-line";
      back.textContent = "Put the row back";
      back.addEventListener("click", () => this.undo());
      const place = document.getElementById("remarks");
      place.dataset.swap = "";
      place.prepend(back);
    },

    remember() {
      const now = this.snapshot();
      if (now === this.current) return;
      this.past = [...this.past, this.current].slice(-100);
      this.future = [];
      this.current = now;
      this.keepDraft();
    },

    undo() {
      this.remember();
      if (!this.past.length) return;
      this.future = [...this.future, this.current];
      this.current = this.past[this.past.length - 1];
      this.past = this.past.slice(0, -1);
      this.restore(this.current);
    },

    redo() {
      if (!this.future.length) return;
      this.past = [...this.past, this.current];
      this.current = this.future[this.future.length - 1];
      this.future = this.future.slice(0, -1);
      this.restore(this.current);
    },

    /** Put an earlier state back: the plain fields here, the rows by the server. */
    restore(state) {
      const data = new FormData();
      for (const [name, value] of new URLSearchParams(state)) data.append(name, value);
      for (const name of STORED) {
        const field = this.$root.querySelector("#" + name);
        if (field && data.has(name)) field.value = data.get(name);
      }
      data.set("token", this.$root.querySelector("[name=token]").value);
      this.keepDraft();
      this.send("restore", "", data);
    },

    keepDraft() {
      const state = this.snapshot();
      if (state === this.savedState) localStorage.removeItem(this.draftKey);
      else this.storeDraft(state);
    },

    storeDraft(state) {
      const draft = { at: Date.now(), version: this.$root.dataset.version, state };
      localStorage.setItem(this.draftKey, JSON.stringify(draft));
    },

    /** Remember which draft was sent; it goes when a page says that it was stored, and not before. */
    sent() {
      this.keepDraft();
      sessionStorage.setItem("uptide.sent", JSON.stringify({ key: this.draftKey, state: this.snapshot() }));
    },

    confirmed() {
      const sent = parsed(sessionStorage.getItem("uptide.sent"));
      if (!sent || !("stored" in this.$root.dataset)) return;
      sessionStorage.removeItem("uptide.sent");
      if (parsed(localStorage.getItem(sent.key))?.state === sent.state) localStorage.removeItem(sent.key);
    },

    /** Offer what was typed and not saved: of this tab first, then what another left, the newest first. */
    findDraft() {
      this.confirmed();
      const found = Object.keys(localStorage)
        .filter((key) => key === this.draftsKey || key.startsWith(this.draftsKey + "."))
        // Of a sheet that was refused all stands on the page.
        .filter((key) => key !== this.draftKey || !("refused" in this.$root.dataset))
        .map((key) => ({ key, ...parsed(localStorage.getItem(key)) }))
        .filter((draft) => draft.state && typed(draft.state) !== typed(this.current))
        .sort((a, b) => (b.key === this.draftKey) - (a.key === this.draftKey) || b.at - a.at);
      if (!found.length) return;
      this.draft = found[0];
      if (this.draft.key !== this.draftKey) return;
      this.draft.key += ".before"; // what is typed next must not take its place
      localStorage.setItem(this.draft.key, localStorage.getItem(this.draftKey));
      localStorage.removeItem(this.draftKey);
    },

    takeDraft() {
      const { key, state } = this.draft;
      this.past = [...this.past, this.current];
      this.current = state;
      this.draft = null;
      this.restore(state);
      this.storeDraft(state);
      localStorage.removeItem(key);
    },

    dropDraft() {
      localStorage.removeItem(this.draft.key);
      this.draft = null;
    },
  }));

  // Steps through the months of the tide; the words were written by the server.
  Alpine.data("tide", () => ({
    month: 0,
    all: [],
    at: [],
    init() {
      this.all = JSON.parse(this.$root.dataset.words);
      this.at = JSON.parse(this.$root.dataset.at);
    },
    get words() { return this.all[this.month] || ""; },
    get x() { return this.at[this.month] || 0; },
    step(event) { this.month = Number(event.target.value); },
    hover(event) {
      const box = event.currentTarget.getBoundingClientRect();
      const x = (event.clientX - box.left) / box.width * event.currentTarget.viewBox.baseVal.width;
      let nearest = 0;
      this.at.forEach((place, month) => {
        if (Math.abs(place - x) < Math.abs(this.at[nearest] - x)) nearest =
          month;
      });
      this.month = nearest;
      this.$root.querySelector("input[type=range]").value = nearest;
    },
  }));

  Alpine.data("quick", () => ({
    asked: 0,
    async ask() {
      const number = ++this.asked;
      const question = document.getElementById("q").value;
      // A whole recipe is worked out once a pause, not once a letter.
      await new Promise((resolve) => setTimeout(resolve, 90));
      if (number !== this.asked) return;
      const answer = await fetch("/quick?q=" + encodeURIComponent(question));
      const html = await answer.text();
      if (number !== this.asked || !answer.ok) return;
      document.getElementById("quick-answer").innerHTML = question.trim() ? html : "";
    },
    clear() {
      this.asked += 1;
      document.getElementById("q").value = "";
      document.getElementById("quick-answer").textContent = "";
    },
  }));

  // Follows a thermometer; what it says comes as HTML, worded by the server.
  Alpine.data("warmth", () => ({
    init() {
      const events = new EventSource(this.$root.dataset.from);
      for (const part of ["now", "picture"]) {
        events.addEventListener(part, (event) => {
          document.getElementById("warm-" + part).innerHTML = event.data;
        });
      }
      // The connection itself is gone: it is tried again, and the last value must not stand as if it were new.
      events.addEventListener("error", () => {
        document.getElementById("warm-now").textContent = this.$root.dataset.lost;
      });
      addEventListener("pagehide", () => events.close());
    },
  }));

  Alpine.data("evening", () => ({
    theme: document.documentElement.dataset.bsTheme,
    get words() { return this.theme === "dark" ? "Daylight" : "Evening"; },
    toggle() {
      this.theme = this.theme === "dark" ? "light" : "dark";
      document.documentElement.dataset.bsTheme = this.theme;
      localStorage.setItem("uptide.theme", this.theme);
    },
  }));
});
