/** While a pointer is pressed no page is drawn anew: what is pressed must not move away before it is let go. */
type Listener = () => void;

class Pointer {
  private isDown = false;
  private readonly waiting = new Set<Listener>();

  press = (): void => {
    this.isDown = true;
  };

  letGo = (): void => {
    this.isDown = false;
    const waiting = [...this.waiting];
    this.waiting.clear();
    for (const one of waiting) one();
  };

  /** Now, or when it is let go. */
  whenUp(then: Listener): void {
    if (this.isDown) this.waiting.add(then);
    else then();
  }

  /** Knows from now on what the pointer does on this page. */
  follow(page: Window): void {
    page.addEventListener("pointerdown", this.press, true);
    // A choice that opens, or something that is dragged, takes the pointer with it: it is up again once anything else comes.
    for (const kind of ["pointerup", "pointercancel", "click", "keydown", "drop", "dragend"]) {
      page.addEventListener(kind, this.letGo, true);
    }
    page.addEventListener("change", ({ target }) => target instanceof HTMLSelectElement && this.letGo(), true);
    page.addEventListener("blur", this.letGo);
    page.addEventListener("pointermove", ({ buttons }) => buttons === 0 && this.letGo(), true);
  }
}

export const pointer = new Pointer();
