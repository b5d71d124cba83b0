/** The length of a pause in typing after which the page gets the text. */
const pauseMs = 300;

const ofTyping = ['keydown', 'keypress', 'keyup', 'beforeinput', 'textInput', 'input', 'selectionchange'];

interface Watched {
  /** The text was changed by a key. */
  typed: () => void;
}

/**
 * Keys in the text fields of one form. While a text is typed, the rest of the page does not hear of it: React listens to
 * everything, and on a slow tablet each of the seven events of a key costs a millisecond. Keys that are not letters, and those
 * with Ctrl or Alt, are for everybody.
 */
export class Typing {
  private readonly fields = new Map<EventTarget, Watched>();
  private timer: ReturnType<typeof setTimeout> | undefined;
  /** Tells the page what was typed and not told yet. */
  private untold: (() => void) | null = null;

  /** Watches a field; `tell` hands its text to the page. Returns how to stop. */
  watch(field: HTMLElement, tell: () => void): { typed: () => void; stop: () => void } {
    const typed = () => {
      if (this.untold !== tell) this.tellNow();
      this.untold = tell;
      clearTimeout(this.timer);
      this.timer = setTimeout(() => this.tellNow(), pauseMs);
    };
    if (this.fields.size === 0) this.listen(true);
    this.fields.set(field, { typed });
    const stop = () => {
      if (this.untold === tell) this.forget();
      this.fields.delete(field);
      if (this.fields.size === 0) this.listen(false);
    };
    return { typed, stop };
  }

  /** Tells the page at once: before anything is pressed, because a tablet leaves the focus in the field until then. */
  readonly tellNow = () => {
    const tell = this.untold;
    this.forget();
    tell?.();
  };

  private forget() {
    clearTimeout(this.timer);
    this.untold = null;
  }

  private listen(on: boolean) {
    const turn = on ? 'addEventListener' : 'removeEventListener';
    for (const name of ofTyping) window[turn](name, this.quietly, true);
    window[turn]('pointerdown', this.tellNow, true);
  }

  private readonly quietly = (event: Event) => {
    const field = event.target && this.fields.get(event.target);
    if (!field) return;
    if (event instanceof KeyboardEvent)
      if (event.key.length !== 1 || event.ctrlKey || event.metaKey || event.altKey) return;
    event.stopPropagation();
    if (event.type === 'input') field.typed();
  };
}
