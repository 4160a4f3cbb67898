// Course is the way of the nozzle through one layer: straight ways one after the other, by the
// time that each would take at an even speed. The server tells how fast each path is laid.

export class Course {
  constructor(job, paths, first) {
    this.ways = []; // [x, y, to x, to y, kind or -1 for a way between, width, ends at]
    this.time = 0;
    this.at = null;
    this.travel = job.travel; // mm/s
    if (first) this.walk(job.around, [0, 0, 0]);
    for (const place of job.places) this.walk(paths, place);
  }

  walk(paths, [dx, dy, turn]) {
    const put = (x, y) => {
      for (let k = 0; k < turn; k++) [x, y] = [-y, x];
      return [x + dx, y + dy];
    };
    for (const p of paths) {
      const n = p.p.length / 2;
      const place = (i) => put(p.p[2 * i], p.p[2 * i + 1]);
      for (let i = 0; i < (p.y?.length ?? 0); i += 2) this.go(put(p.y[i], p.y[i + 1]), -1, 0, this.travel);
      this.go(place(0), -1, 0, this.travel);
      for (let i = 1; i < n; i++) this.go(place(i), p.k, p.v?.[i - 1] ?? p.w, p.s);
    }
  }

  go(to, kind, width, speed) {
    if (this.at) {
      this.time += Math.hypot(to[0] - this.at[0], to[1] - this.at[1]) / speed;
      this.ways.push([...this.at, ...to, kind, width, this.time]);
    }
    this.at = to;
  }

  // upTo returns how many ways are gone when a share of the time has passed, the place of the
  // nozzle, and the way at work.
  upTo(share) {
    const time = share * this.time;
    let a = 0;
    let b = this.ways.length;
    while (a < b) {
      const m = (a + b) >> 1;
      if (this.ways[m][6] <= time) a = m + 1;
      else b = m;
    }
    const way = this.ways[a];
    if (!way) return { gone: a, at: this.at, way: null };
    const begun = a ? this.ways[a - 1][6] : 0;
    const f = (time - begun) / Math.max(1e-9, way[6] - begun);
    return { gone: a, at: [way[0] + (way[2] - way[0]) * f, way[1] + (way[3] - way[1]) * f], way };
  }
}
