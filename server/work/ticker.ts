/** Does something again and again until it is closed, never twice at once. What goes wrong is told, and tried again. */
export class Ticker {
  private readonly pace: number;
  private readonly act: () => Promise<void>;
  private readonly failed: (error: unknown) => void;
  private timer: ReturnType<typeof setTimeout> | undefined;
  private running: Promise<void> = Promise.resolve();
  private isOpen = true;

  /** `pace`: how long it rests between, in milliseconds. */
  constructor(pace: number, act: () => Promise<void>, failed: (error: unknown) => void) {
    this.pace = pace;
    this.act = act;
    this.failed = failed;
    this.wait();
  }

  private wait(): void {
    this.timer = setTimeout(() => {
      this.running = this.act()
        .catch((error: unknown) => {
          if (this.isOpen) this.failed(error);
        })
        .finally(() => this.isOpen && this.wait());
    }, this.pace);
  }

  /** Ends it when what is under way is done. */
  async close(): Promise<void> {
    this.isOpen = false;
    clearTimeout(this.timer);
    await this.running;
  }
}
