// What can be chosen by name in a picture: asked for, shown as a list, and found under the pointer.
const get = (id) => document.getElementById(id);

export class Named {
  /** chosen(keys) : the artist presses a name. quick(key) : … a quick mend. */
  constructor(shot, chosen, quick) {
    Object.assign(this, {
      shot,
      chosen,
      quick,
      picture: "",
      atoms: null,
      choices: [],
      last: null,
      top: "",
      offered: false,
    });
    get("choices").addEventListener("click", ({ target }) => target.dataset.key && this.chosen([target.dataset.key]));
    get("kept").addEventListener("click", ({ target }) => target.dataset.key && this.chosen([target.dataset.key]));
    get("quick").addEventListener("click", ({ target }) => target.dataset.key && this.quick(target.dataset.key));
    document.addEventListener("moss:tick", ({ detail }) => {
      if (!this.offered && (detail.again || detail.hello || (detail.made ?? []).includes(`map choices:${this.top}`)))
        this.offers();
      if (!this.atoms && (detail.again || detail.hello || (detail.made ?? []).includes(`map choices:${this.picture}`)))
        this.read();
    });
    setInterval(() => {
      if (document.visibilityState === "visible" && !this.offered) this.offers();
      if (!this.atoms && document.visibilityState === "visible") this.read();
    }, 4000); // what was made before the stream was heard
  }

  async of(picture) {
    if (!picture || picture === this.picture) return;
    Object.assign(this, { picture, atoms: null, choices: [], last: null, sizes: null });
    get("choices").innerHTML = '<p class="facts">is being looked for …</p>';
    if (await this.known(picture)) this.read();
  }

  /** Quick mends come on top: they are those of the picture as it is mended by now. */
  async onTop(picture) {
    if (!picture || picture === this.top) return;
    Object.assign(this, { top: picture, offered: false });
    // what was offered before is not offered on this one
    get("quick").innerHTML = '<p class="facts">is being looked for …</p>';
    if (await this.known(picture)) this.offers();
  }

  /** Asks what can be chosen in a picture; whether that is known already. */
  async known(picture) {
    return (
      (await fetch(`/shots/${this.shot}/choices?picture=${picture}`, { method: "POST" }).catch(() => null))?.status ===
      204
    );
  }

  async offers() {
    const { top } = this;
    if (!top) return;
    const told = await fetch(`/shots/${this.shot}/choices.json?picture=${top}`)
      .then((answer) => answer.json())
      .catch(() => null);
    if (!told?.there || top !== this.top || this.offered) return;
    this.offered = true;
    this.list(get("quick"), told.quick, "nothing");
  }

  async read() {
    const { picture } = this;
    if (!picture) return;
    const told = await fetch(`/shots/${this.shot}/choices.json?picture=${picture}`)
      .then((answer) => answer.json())
      .catch(() => null);
    if (!told?.there || picture !== this.picture) return;
    const image = new Image();
    image.src = `/pictures/${picture}/maps/choices.png`;
    await image.decode();
    // two may have asked: a list that is there keeps the hand's place in it
    if (picture !== this.picture || this.atoms) return;
    const pen = Object.assign(document.createElement("canvas"), {
      width: image.naturalWidth,
      height: image.naturalHeight,
    }).getContext("2d", { willReadFrequently: true });
    pen.drawImage(image, 0, 0);
    this.atoms = pen.getImageData(0, 0, image.naturalWidth, image.naturalHeight);
    this.choices = told.choices;
    this.list(
      get("choices"),
      told.choices.filter(({ key }) => !key.endsWith(" eye")),
      "nothing is recognised here: brush, or press a colour",
    );
    get("main").dataset.named = "yes"; // for tests: what can be chosen is known
  }

  kept(names) {
    this.list(
      get("kept"),
      names.map((name) => ({ key: `kept ${name}`, name })),
      "",
    );
  }

  list(place, choices, nothing) {
    place.replaceChildren(
      ...choices.map(({ name }) =>
        Object.assign(document.createElement("button"), { type: "button", className: "press", textContent: name }),
      ),
    );
    [...place.children].forEach((button, k) => {
      button.dataset.key = choices[k].key;
    });
    if (!choices.length && nothing)
      place.replaceChildren(Object.assign(document.createElement("p"), { className: "facts", textContent: nothing }));
  }

  /** What lies at a place, the narrowest first; pressed again there, the next wider. Null where nothing is known. */
  at(x, y) {
    const { atoms } = this;
    if (!atoms) return null;
    const atom = atoms.data[4 * (Math.floor(y) * atoms.width + Math.floor(x))];
    const there = this.choices
      .filter((choice) => choice.atoms.includes(atom))
      .sort((a, b) => this.size(a) - this.size(b));
    if (!there.length) return null;
    const again = this.last?.atom === atom ? (this.last.wide + 1) % there.length : 0;
    this.last = { atom, wide: again };
    return there[again];
  }

  /** A canvas, white where choices are; null where they are not known here. */
  drawn(keys) {
    const atoms = new Set(this.choices.filter(({ key }) => keys.includes(key)).flatMap((choice) => choice.atoms));
    if (!this.atoms || !atoms.size) return null;
    const { width, height, data } = this.atoms;
    const canvas = Object.assign(document.createElement("canvas"), { width, height });
    const pen = canvas.getContext("2d");
    const pixels = pen.createImageData(width, height);
    const whole = new Uint32Array(pixels.data.buffer);
    for (let k = 0; k < whole.length; k++) if (atoms.has(data[4 * k])) whole[k] = 0xffffffff;
    pen.putImageData(pixels, 0, 0);
    return canvas;
  }

  size(choice) {
    if (!this.sizes) {
      this.sizes = new Uint32Array(256);
      for (let k = 0; k < this.atoms.data.length; k += 4) this.sizes[this.atoms.data[k]]++;
    }
    return choice.atoms.reduce((sum, atom) => sum + this.sizes[atom], 0);
  }
}
