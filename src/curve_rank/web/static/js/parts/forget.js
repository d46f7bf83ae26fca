// What this browser keeps of somebody goes with them: at sign-out, when a sign-in is refused, and when
// another comes. What still waits to be sent stays, under its person's number, and is shown to nobody else.
export const PAGES = "curve-rank-today";
export const QUEUE = "curve-rank-queue";
const PERSON = "curve-rank-person";
const OF_THEIRS = ["curve-rank-rest", "curve-rank-left-out"];

// The queue's database, with its two stores: what waits, and what was acknowledged.
export function opened() {
  return new Promise((resolve, reject) => {
    const asked = indexedDB.open(QUEUE, 1);
    asked.onupgradeneeded = () => {
      for (const store of ["waiting", "kept"])
        asked.result.createObjectStore(store, { keyPath: ["person", "key"] });
    };
    asked.onsuccess = () => resolve(asked.result);
    asked.onerror = () => reject(asked.error);
  });
}

async function forgetKept(but) {
  const db = await opened();
  await new Promise((resolve, reject) => {
    const transaction = db.transaction(["kept"], "readwrite");
    transaction.oncomplete = resolve;
    transaction.onabort = transaction.onerror = () => reject(transaction.error);
    transaction.objectStore("kept").openCursor().onsuccess = (event) => {
      const cursor = event.target.result;
      if (!cursor) return;
      if (String(cursor.value.person) !== but) cursor.delete();
      cursor.continue();
    };
  });
  db.close();
}

// Whoever's it is; with a person named, everybody's but theirs.
export async function forget(but = "") {
  localStorage.setItem(PERSON, but);
  for (const name of OF_THEIRS) localStorage.removeItem(name);
  await globalThis.caches?.delete(PAGES);
  await forgetKept(but).catch(() => {});  // a browser that keeps no database has kept nothing
}

// On every page: whoever was here before and is not any more is forgotten.
export async function forgetOthers() {
  const here = document.querySelector('meta[name="person"]')?.content ?? "";
  const before = localStorage.getItem(PERSON);
  if (before !== null && before !== here) await forget(here);
  else if (here) localStorage.setItem(PERSON, here);  // of who was never here nothing is kept, not even that
}
