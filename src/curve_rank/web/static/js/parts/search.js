// A search of the set-up: begun, watched while it runs, stopped; what it found replaces the panel.
const LOOK = 250;

export const search = () => ({
  going: false,
  done: 0,
  total: 1,
  problem: "",

  async begin(event) {
    const form = event.target;
    [this.problem, this.going, this.run] = ["", true, null];
    const bench = new URLSearchParams(location.search);
    const query = new URLSearchParams(new FormData(form));
    for (const name of ["set", "fault", "for", "reps"])
      for (const value of bench.getAll(name)) query.append(name, value);
    this.query = query;
    try {
      const token = document.querySelector('meta[name="csrf"]').content;
      let told = await this.told(
        fetch(`${form.action}?${query}`, {
          method: "POST",
          headers: { "X-CSRFToken": token, Accept: "application/json" },
        }),
      );
      this.run = told.run;
      if (!this.going) await this.cancel(); // stopped before it had a name
      while (this.going && told.state === "running") {
        await new Promise((soon) => setTimeout(soon, LOOK));
        told = await this.told(
          fetch(`${this.$root.dataset.run}?${query}&run=${this.run}`, {
            headers: { Accept: "application/json" },
          }),
        );
        [this.done, this.total] = [told.done, told.total];
      }
      if (told.html) this.$refs.found.innerHTML = told.html;
      if (told.state === "failed") this.problem = told.problem;
    } catch (error) {
      this.problem = error.message;
    } finally {
      this.going = false;
    }
  },
  async told(asked) {
    const response = await asked;
    const told = await response.json();
    if (!response.ok) throw new Error(told.error);
    return told;
  },
  async stop() {
    this.going = false;
    if (this.run) await this.cancel();
  },
  async cancel() {
    const token = document.querySelector('meta[name="csrf"]').content;
    await fetch(`${this.$root.dataset.stop}?${this.query}&run=${this.run}`, {
      method: "POST",
      headers: { "X-CSRFToken": token },
    });
  },
});
