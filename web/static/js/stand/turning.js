// What turns and nears a view: the wheel, the arrow keys, plus and minus.

const turns = { ArrowLeft: [-0.12, 0], ArrowRight: [0.12, 0], ArrowUp: [0, 0.1], ArrowDown: [0, -0.1] };

// turning listens on a canvas for a view that has turn(yaw, pitch) and near(factor).
export function turning(canvas, view) {
  const wheel = (e) => {
    e.preventDefault();
    view.near(Math.exp(e.deltaY * 0.0012));
  };
  canvas.addEventListener("wheel", wheel, { passive: false });
  canvas.addEventListener("keydown", (e) => {
    if (turns[e.key]) {
      e.preventDefault();
      view.turn(...turns[e.key]);
    }
    if (e.key === "+" || e.key === "=") view.near(0.85);
    if (e.key === "-") view.near(1.18);
  });
}
