import { Touches, type Finger } from "./Touches";

function fixture() {
  const done: string[] = [];
  const say =
    (name: string) =>
    (...values: (Finger | number)[]) =>
      void done.push([name, ...values.map((v) => (typeof v === "number" ? +v.toFixed(2) : `${v.clientX},${v.clientY}`))].join(" "));
  const touches = new Touches({ begin: say("begin"), work: say("work"), end: say("end"), pan: say("pan"), point: say("point"), pinch: say("pinch") });
  return { done, touches };
}
const finger = (pointerId: number, clientX: number, clientY: number, timeStamp = 0): Finger => ({ pointerId, clientX, clientY, timeStamp });

it("one finger works with a tool from where it came down, a tap in one place, and moves the picture without a tool", () => {
  const { done, touches } = fixture();
  touches.down(finger(1, 10, 10), true);
  touches.move(finger(1, 12, 10));
  expect(done).toEqual([]);
  touches.move(finger(1, 20, 10));
  touches.up(1);
  touches.down(finger(2, 5, 5), true);
  touches.up(2);
  touches.down(finger(3, 0, 0), false);
  touches.move(finger(3, 8, -2));
  touches.move(finger(3, 9, -2));
  touches.up(3);
  touches.down(finger(4, 7, 7), false);
  touches.up(4);
  expect(done).toEqual(["begin 10,10", "work 20,10", "end", "begin 5,5", "end", "pan 8 -2", "pan 1 0", "point 7,7"]);
});

it("two fingers scale about their middle and move with it, whatever tool there is; the one that stays goes on moving", () => {
  const { done, touches } = fixture();
  touches.down(finger(1, 0, 0), true);
  touches.down(finger(2, 100, 0), true);
  touches.move(finger(2, 200, 0));
  touches.up(1);
  touches.move(finger(2, 210, 5));
  touches.up(2);
  expect(done).toEqual(["pinch 100 0 50 0 2", "pan 10 5"]);
});

it("a stroke is not broken by a second finger", () => {
  const { done, touches } = fixture();
  touches.down(finger(1, 0, 0), true);
  touches.move(finger(1, 10, 0));
  touches.down(finger(2, 50, 50), true);
  touches.move(finger(2, 60, 60));
  touches.move(finger(1, 20, 0));
  touches.up(2);
  touches.up(1);
  expect(done).toEqual(["begin 0,0", "work 10,0", "work 20,0", "end"]);
});

it("where a pen is used, the palm beside it does nothing, and fingers move the picture", () => {
  const { done, touches } = fixture();
  touches.down(finger(1, 0, 0), true);
  touches.move(finger(1, 10, 0));
  touches.pen(1000);
  touches.move(finger(1, 30, 0));
  touches.down(finger(2, 0, 0, 1300), true);
  touches.move(finger(2, 40, 0, 1310));
  touches.up(2);
  touches.down(finger(3, 0, 0, 2000), true);
  touches.move(finger(3, 8, 0, 2010));
  expect(done).toEqual(["begin 0,0", "work 10,0", "end", "pan 8 0"]);
});
