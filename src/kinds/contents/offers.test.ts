/** What is offered to be laid over the merge: each is found by its own id, and lays what it says. */
import { CONTENT_CONTROLS } from "./controls";
import { CONTENT_RECORDS } from "./records";
import type { ContentKind } from "./records";

const offers = (Object.keys(CONTENT_CONTROLS) as ContentKind[]).flatMap((kind) => CONTENT_CONTROLS[kind].offers.map((offer) => ({ kind, offer })));

it("no two offers have one id, or one name", () => {
  expect(offers.length).toBeGreaterThan(5);
  expect(new Set(offers.map(({ offer }) => offer.id)).size).toBe(offers.length);
  expect(new Set(offers.map(({ offer }) => offer.name)).size).toBe(offers.length);
});

it.each(offers.map(({ kind, offer }) => [offer.id, kind, offer] as const))("%s lays a layer of its kind", (_, kind, offer) => {
  expect(offer.layer().content.type).toBe(kind);
  expect(CONTENT_RECORDS).toHaveProperty(kind);
});
