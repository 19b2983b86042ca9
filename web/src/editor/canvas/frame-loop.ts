/** Runs `draw` once in the next frame, however often it is asked for. */
export function frameLoop(draw: () => void): { ask(): void; stop(): void } {
  let asked = 0;
  return {
    ask() {
      if (asked === 0)
        asked = requestAnimationFrame(() => {
          asked = 0;
          draw();
        });
    },
    stop() {
      cancelAnimationFrame(asked);
      asked = 0;
    },
  };
}
