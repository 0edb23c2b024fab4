/** A finger on the picture, CSS px of the window. */
export interface Finger {
  pointerId: number;
  clientX: number;
  clientY: number;
  timeStamp: number;
}

/** What fingers do. Two of them always move and scale the picture; one works where a tool is in hand and no pen is used, else it moves the picture. */
export interface TouchEffects {
  begin(at: Finger): void;
  work(to: Finger): void;
  end(): void;
  pan(dx: number, dy: number): void;
  /** a tap without a tool: what is there */
  point(at: Finger): void;
  /** about a place, after a move */
  pinch(clientX: number, clientY: number, dx: number, dy: number, factor: number): void;
}

/** How far a finger goes before it works, so that a second one may come, CSS px. */
const STILL = 6;
/** So long after a pen was there a finger is the palm, ms. */
const PALM_MS = 700;

export class Touches {
  private readonly fingers = new Map<number, Finger>();
  private doing: "nothing" | "waiting" | "work" | "view" = "nothing";
  private penAt = -Infinity;
  /** whether what is on the glass has not done anything yet */
  private still = true;

  constructor(private readonly effects: TouchEffects) {}

  /** A pen is there: from now on fingers are for the view, and what rests on the glass beside it does nothing. */
  pen(timeStamp: number): void {
    this.penAt = timeStamp;
    if (this.doing === "work") this.effects.end();
    this.fingers.clear();
    this.doing = "nothing";
  }

  /** @param works whether a tool is in hand */
  down(finger: Finger, works: boolean): void {
    if (finger.timeStamp - this.penAt < PALM_MS || this.doing === "work") return;
    this.fingers.set(finger.pointerId, finger);
    this.still = this.fingers.size === 1;
    const penUsed = this.penAt > -Infinity;
    this.doing = this.fingers.size === 1 && works && !penUsed ? "waiting" : "view";
  }

  move(finger: Finger): void {
    const before = this.fingers.get(finger.pointerId);
    if (!before) return;
    if (this.still) {
      if (Math.hypot(finger.clientX - before.clientX, finger.clientY - before.clientY) < STILL) return;
      this.still = false;
      if (this.doing === "waiting") {
        this.doing = "work";
        this.effects.begin(before);
      }
    }
    const [a, b] = [...this.fingers.values()];
    this.fingers.set(finger.pointerId, finger);
    if (this.doing === "work") return this.effects.work(finger);
    if (!b) return this.effects.pan(finger.clientX - before.clientX, finger.clientY - before.clientY);
    const [c, d] = [...this.fingers.values()];
    const [was, is] = [middle(a, b), middle(c, d)];
    this.effects.pinch(is.x, is.y, is.x - was.x, is.y - was.y, apart(c, d) / Math.max(1, apart(a, b)));
  }

  up(pointerId: number): void {
    const finger = this.fingers.get(pointerId);
    if (!finger) return;
    this.fingers.delete(pointerId);
    // a tap works in one place, or asks for it
    if (this.doing === "waiting") this.effects.begin(finger);
    else if (this.still) this.effects.point(finger);
    if (this.doing === "waiting" || this.doing === "work") this.effects.end();
    if (this.fingers.size === 0 || this.doing !== "view") this.doing = "nothing";
  }
}

const middle = (a: Finger, b: Finger) => ({ x: (a.clientX + b.clientX) / 2, y: (a.clientY + b.clientY) / 2 });
const apart = (a: Finger, b: Finger) => Math.hypot(a.clientX - b.clientX, a.clientY - b.clientY);
