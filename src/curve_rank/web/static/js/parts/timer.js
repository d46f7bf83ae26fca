// Rest and tempo by the clock on the wall: right again after the screen was locked.
const BEEP = 0.09;
let audio = null;

export function wake() {
  audio ??= globalThis.AudioContext ? new AudioContext() : null;
  audio?.resume?.();
}

export function beep(pitch = 660, times = 1) {
  if (!audio) return;
  for (let n = 0; n < times; n += 1) {
    const tone = audio.createOscillator();
    const volume = audio.createGain();
    tone.frequency.value = pitch;
    volume.gain.value = 0.15;
    tone.connect(volume).connect(audio.destination);
    tone.start(audio.currentTime + 0.22 * n);
    tone.stop(audio.currentTime + 0.22 * n + BEEP);
  }
}

export const shake = (pattern) => navigator.vibrate?.(pattern);

// Counts down to a moment; `tick` gets what is left [s] and its part [1].
export class Rest {
  constructor(tick, over) { Object.assign(this, { tick, over, until: 0, whole: 0, timer: 0 }); }

  start(seconds, until = Date.now() + 1000 * seconds) {
    this.stop();
    Object.assign(this, { whole: seconds, until });
    this.timer = setInterval(() => this.look(), 250);
    this.look();
  }

  look() {
    const left = (this.until - Date.now()) / 1000;
    this.tick(Math.max(0, left), Math.max(0, left / this.whole));
    if (left > 0) return;
    this.stop();
    if (left > -5) {
      beep(880, 2);
      shake([200, 100, 200]);
    }
    this.over();
  }

  stop() {
    clearInterval(this.timer);
    this.timer = 0;
  }
}

const NAMES = ["lower", "pause", "lift", "squeeze"];

// Says which part of the repetition it is; each part begins with a sound of its own.
export class Metronome {
  constructor(tell) { Object.assign(this, { tell, begun: 0, at: -1, timer: 0 }); }

  start(tempo) {
    this.stop();
    this.parts = tempo.map((seconds, n) => ({ name: NAMES[n], seconds })).filter((part) => part.seconds > 0);
    this.whole = this.parts.reduce((sum, part) => sum + part.seconds, 0);
    this.begun = Date.now() + 3000;
    this.timer = setInterval(() => this.look(), 60);
  }

  look() {
    const gone = (Date.now() - this.begun) / 1000;
    if (gone < 0) {
      this.tell({ name: "ready", left: Math.ceil(-gone), count: 0, part: 0 });
      return;
    }
    const count = Math.floor(gone / this.whole);
    let within = gone - count * this.whole;
    let n = 0;
    while (n < this.parts.length - 1 && within >= this.parts[n].seconds) {
      within -= this.parts[n].seconds;
      n += 1;
    }
    const place = count * this.parts.length + n;
    if (place !== this.at) {
      this.at = place;
      beep(n === 0 ? 520 : 760);
      if (n === 0) shake(40);
    }
    this.tell({
      name: this.parts[n].name,
      left: Math.ceil(this.parts[n].seconds - within),
      count: count + 1,
      part: within / this.parts[n].seconds,
    });
  }

  stop() {
    clearInterval(this.timer);
    Object.assign(this, { timer: 0, at: -1 });
    this.tell({ name: "", left: 0, count: 0, part: 0 });
  }
}
