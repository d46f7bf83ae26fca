// Pictures brought in: made small here, and single frames taken out of a clip that stays here.
import Alpine from "../../../vendor/alpinejs-csp/alpine-csp.js";

const MOST_SIDE = 2000, FRAME = 1 / 30;

/** An upright JPEG of at most so many pixels a side. */
async function small(source, width, height) {
  const part = Math.min(1, MOST_SIDE / Math.max(width, height));
  const canvas = document.createElement("canvas");
  [canvas.width, canvas.height] = [Math.round(width * part), Math.round(height * part)];
  canvas.getContext("2d").drawImage(source, 0, 0, canvas.width, canvas.height);
  const blob = await new Promise((done) => canvas.toBlob(done, "image/jpeg", 0.9));
  return { canvas, blob };
}

Alpine.data("bring", () => ({
  clip: false, told: "", frames: [],

  async shrink(event) {
    const form = event.target;
    if (form.dataset.ready) return;
    event.preventDefault();
    const bag = new DataTransfer();
    for (const file of this.$refs.files.files) {
      try {
        const drawn = await createImageBitmap(file);
        const { blob } = await small(drawn, drawn.width, drawn.height);
        bag.items.add(new File([blob], "picture.jpg", { type: "image/jpeg" }));
      } catch {
        bag.items.add(file); // whatever it is, the server says what would be right
      }
    }
    for (const blob of this.frames)
      bag.items.add(new File([Alpine.raw(blob)], "frame.jpg", { type: "image/jpeg" }));
    this.$refs.files.files = bag.files;
    form.dataset.ready = "yes";
    setTimeout(() => form.requestSubmit()); // not while the first submission is still being told of
  },
  play() {
    const [file] = this.$refs.clip.files;
    if (!file) return;
    const video = this.$refs.video;
    URL.revokeObjectURL(video.src);
    video.src = URL.createObjectURL(file);
    video.onerror = () => {
      this.clip = false;
      this.told = "This browser cannot play the clip; take photographs of it instead.";
    };
    video.onloadeddata = () => {
      this.clip = true;
      this.told = "";
    };
  },
  step(by) {
    const video = this.$refs.video;
    video.pause();
    video.currentTime = Math.min(Math.max(0, video.currentTime + by), video.duration || Infinity);
  },
  back() { this.step(-FRAME); },
  forth() { this.step(FRAME); },
  async take() {
    const video = this.$refs.video;
    if (this.frames.length + this.$refs.files.files.length >= Number(this.$root.dataset.most)) {
      this.told = `At most ${this.$root.dataset.most} pictures.`;
      return;
    }
    video.pause();
    const { canvas, blob } = await small(video, video.videoWidth, video.videoHeight);
    this.frames.push(blob);
    this.$refs.taken.append(canvas);
    this.told = `${this.frames.length} ${this.frames.length === 1 ? "frame" : "frames"} taken`;
  },
}));

Alpine.start();
