// What day it is: the device's at the tap, in the client's time zone; a day of training lasts until three at
// night. A clock that is wrong is set right by what the server said last.
const OFF = "curve-rank-clock-off";
const LEAST_OFF = 300000;

// How far this clock is off, as the server said: small differences are the way there and back.
export function heardNow(now) {
  if (!now) return;
  const off = now - Date.now();
  if (Math.abs(off) > LEAST_OFF) localStorage.setItem(OFF, String(off));
  else localStorage.removeItem(OFF);
}
export const clockOff = () => Number(localStorage.getItem(OFF) ?? 0);

function inZone(moment, zone) {
  const parts = { year: "numeric", month: "2-digit", day: "2-digit" };
  try {
    return new Intl.DateTimeFormat("en-CA", { ...parts, timeZone: zone }).format(moment);
  } catch {
    return new Intl.DateTimeFormat("en-CA", parts).format(moment);  // a zone that this browser does not know
  }
}
export const dayNow = ({ zone, dayBegins }) => inZone(new Date(Date.now() + clockOff() - dayBegins), zone);

export const daysFrom = (day, to) => Math.round((Date.parse(to) - Date.parse(day)) / 86400000);
export const inWords = (day) =>
  new Intl.DateTimeFormat("en-GB", { weekday: "long", day: "numeric", month: "long", timeZone: "UTC" })
    .format(new Date(day));
