// What was written down and is not acknowledged yet. It stands in the browser's own database, under the key
// that was made here, and is sent until the server says what became of it: each set is kept once, however
// often it goes.
import { heardNow } from "./day.js";
import { forget, opened, QUEUE as NAME } from "./forget.js";

const FIRST_WAIT = 4000;
const LONGEST_WAIT = 12000;  // not every browser tells that there is a connection again
const PATIENCE = 12000;
const AT_ONCE = 50;
const KEPT_DAYS = 28;
const ENDED = 401;  // nobody is signed in any more

function within(db, stores, mode, work) {
  return new Promise((resolve, reject) => {
    const transaction = db.transaction(stores, mode);
    let found;
    transaction.oncomplete = () => resolve(found);
    transaction.onabort = transaction.onerror = () => reject(transaction.error);
    work((name) => transaction.objectStore(name), (value) => { found = value; });
  });
}

export function device() {
  let name = localStorage.getItem("curve-rank-device");
  if (!name) {
    name = `b-${crypto.randomUUID().slice(0, 13)}`;
    localStorage.setItem("curve-rank-device", name);
  }
  return name;
}

// What waits of one person; of others nothing is shown.
export async function waiting(person) {
  const db = await opened();
  const all = await within(db, ["waiting"], "readonly", (store, found) => {
    const asked = store("waiting").getAll();
    asked.onsuccess = () => found(asked.result);
  });
  db.close();
  return all.filter((one) => String(one.person) === String(person));
}

// Rises with every change made here, also where the device's clock was set back: what is older than what was
// sent is lost.
function written() {
  const now = Math.max(Date.now(), Number(localStorage.getItem("curve-rank-clock") ?? 0) + 1);
  localStorage.setItem("curve-rank-clock", String(now));
  return now;
}

// A connection can die without a word: what has no answer by then is given up, and goes again later.
async function answer(address, asked) {
  const patience = new AbortController();
  const timer = setTimeout(() => patience.abort(), PATIENCE);
  try {
    const response = await fetch(address, { ...asked, signal: patience.signal });
    return { ok: response.ok, status: response.status, told: response.ok ? await response.json() : null };
  } finally {
    clearTimeout(timer);
  }
}

export class Queue {
  constructor({ person, log, queue }, told) {
    Object.assign(this, {
      person,
      log,
      address: queue,
      told,
      token: "",
      pause: FIRST_WAIT,
      timer: 0,
      sending: false,
      adding: 0,
      says: "",
      aside: false,
    });
    addEventListener("online", () => this.soon());
    document.addEventListener(
      "visibilitychange",
      () => document.visibilityState === "visible" && this.soon(),
    );
  }

  // There may be a connection again: what failed for long is not waited for as long any more.
  soon() {
    this.pause = FIRST_WAIT;
    this.send();
  }

  async add(what, seen = 0, removed = false) {
    const held = what.kind && what.load_kg === undefined ? { note: what } : { set: what };
    const message = { device: device(), written: written(), seen, removed, ...held };
    this.adding += 1;
    try {
      const db = await opened();
      await within(db, ["waiting"], "readwrite", (store) =>
        store("waiting").put({ person: this.person, key: what.key, message, problem: "" }),
      );
      db.close();
    } finally {
      this.adding -= 1;
    }
    await this.tell();
    this.send();
  }

  async drop(key) {
    const db = await opened();
    await within(db, ["waiting"], "readwrite", (store) => store("waiting").delete([this.person, key]));
    db.close();
    await this.tell();
  }

  // What was done here of late: acknowledged or not, newest state of each.
  async rows() {
    const db = await opened();
    const [kept, wait] = await within(db, ["waiting", "kept"], "readonly", (store, found) => {
      const both = [[], []];
      ["kept", "waiting"].forEach((name, n) => {
        store(name).getAll().onsuccess = (event) => { both[n] = event.target.result; found(both); };
      });
    });
    db.close();
    const mine = (rows) => rows.filter((row) => row.person === this.person);
    return [...mine(kept), ...mine(wait).map((row) => ({ ...row, waits: true }))];
  }

  async tell() {
    const rows = await waiting(this.person);
    if (this.adding) return;  // what is being written down is told once it is there
    this.told({
      waits: rows.length,
      says: this.says,
      aside: this.aside,
      problems: rows.filter((row) => row.problem),
    });
  }

  async send() {
    this.again = this.sending;  // something came while the rest is on its way
    if (this.sending) return;
    this.sending = true;
    clearTimeout(this.timer);
    try {
      const work = async () => { while (await this.some()); };
      await (navigator.locks ? navigator.locks.request(NAME, work) : work());
      this.pause = FIRST_WAIT;
      this.says = "";
    } catch (error) {
      this.says = error.says ?? "no connection";
      this.timer = setTimeout(() => this.send(), this.pause);
      this.pause = Math.min(2 * this.pause, LONGEST_WAIT);
    } finally {
      this.sending = false;
      await this.tell();
      if (this.again && !this.says) this.send();
    }
  }

  async some() {
    const rows = (await waiting(this.person))
      .filter((row) => !row.problem)
      .sort((a, b) => a.message.written - b.message.written);
    if (!rows.length) return false;
    if (!this.token) await this.ask();
    const sent = rows.slice(0, AT_ONCE);
    const response = await answer(this.log, {
      method: "POST",
      headers: { "Content-Type": "application/json", Accept: "application/json", "X-CSRFToken": this.token },
      body: JSON.stringify({ person: this.person, messages: sent.map((row) => row.message) }),
    });
    if (!response.ok) {
      this.token = "";
      if (response.status === ENDED) await forget();
      throw Object.assign(new Error(String(response.status)), {
        says: response.status === ENDED ? "sign in again to send it" : "the server does not take it just now",
      });
    }
    await this.heard(sent, response.told.receipts);
    return rows.length > sent.length;
  }

  async ask() {
    const { ok, status, told } = await answer(this.address, { headers: { Accept: "application/json" } });
    if (status === ENDED) await forget();
    if (!ok) throw Object.assign(new Error(String(status)), { says: "sign in again to send it" });
    if (told.person !== this.person) {
      await forget(String(told.person));
      this.stranger?.();
    }
    if (told.person !== this.person)
      throw Object.assign(new Error("person"), { says: "somebody else is signed in here" });
    this.token = told.token;
    heardNow(told.now);
  }

  async heard(sent, receipts) {
    const by = new Map(receipts.map((one) => [one.key, one]));
    const db = await opened();
    await within(db, ["waiting", "kept"], "readwrite", (store) => {
      for (const row of sent) {
        const receipt = by.get(row.key);
        if (!receipt) continue;
        this.aside ||= receipt.state === "aside";
        const place = [this.person, row.key];
        store("waiting").get(place).onsuccess = (event) => {
          const now = event.target.result;
          if (receipt.state === "refused") {
            if (now) store("waiting").put({ ...now, problem: receipt.problem });
            return;
          }
          store("kept").put({ ...row, version: receipt.version });
          if (!now) return;
          if (now.message.written === row.message.written) store("waiting").delete(place);
          else store("waiting").put({ ...now, message: { ...now.message, seen: receipt.version } });
        };
      }
    });
    db.close();
    await this.forget();
  }

  // What was acknowledged is kept as long as pages are: without a connection it says which session is due.
  async forget() {
    const since = new Date(Date.now() - KEPT_DAYS * 86400000).toISOString().slice(0, 10);
    const db = await opened();
    await within(db, ["kept"], "readwrite", (store) => {
      store("kept").openCursor().onsuccess = (event) => {
        const cursor = event.target.result;
        if (!cursor) return;
        if ((cursor.value.message.set?.day ?? cursor.value.message.note?.day ?? "") < since) cursor.delete();
        cursor.continue();
      };
    });
    db.close();
  }
}
