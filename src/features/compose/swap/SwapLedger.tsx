"use client";
import type { KeyboardEvent } from "react";
import styled from "styled-components";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import type { SwapRecord } from "../../../document/records/swapTypes";
import { frameNumber, mergedFramesOf, mergeOf } from "../../../document/selectors";
import { rankedLooks, takenFrom } from "../../../document/swapEdits";
import { mergeKind } from "../../../kinds/merges/records";
import { merge } from "../../../session/actions";
import { builtOn, framesToSwap, takeBest, takeFrom } from "../../../session/swapping";
import { usePartsOf } from "../../../session/store";
import { Button } from "../../../ui/components/Button";
import { Ledger, LedgerCell, LedgerRow } from "../../../ui/components/Ledger";
import { Card, Figure, Heading, RowOf, Section, Soft } from "../../../ui/components/panels";
import { useCompose } from "../../../view/composeState";
import { FrameCell } from "../FrameCell";

const Scroll = styled.div`
  overflow-x: auto;
`;

/** Parts × frames: how sharp each frame is there, and which is taken. */
export function SwapLedger({ swaps, chosen }: { swaps: SwapRecord[]; chosen: SwapRecord | null }) {
  const { records, readOnly, isBusy } = usePartsOf("records", "readOnly", "isBusy");
  const frames = framesToSwap(records);
  const base = builtOn(records);
  const method = mergeOf(records)?.method;
  const smears = method !== undefined && (mergeKind(method).smearsMotion ?? false);
  const choose = (id: string) => useCompose.setState({ swapId: id, drawing: "part" });
  const taken = (swap: SwapRecord) => takenFrom(records, swap) ?? base;
  const take = (swap: SwapRecord, frameId: string) => {
    if (!readOnly && !isBusy && taken(swap) !== frameId) void takeFrom(swap, frameId === base ? null : frameId);
  };
  // left and right go along the frames, as up and down go along the parts
  const keys = (event: KeyboardEvent) => {
    const by = event.key === "ArrowRight" ? 1 : event.key === "ArrowLeft" ? -1 : 0;
    if (!by || !chosen) return;
    event.preventDefault();
    event.stopPropagation();
    const at = frames.findIndex((f) => f.id === taken(chosen));
    const next = frames[Math.min(frames.length - 1, Math.max(0, at + by))];
    if (next) take(chosen, next.id);
  };
  return (
    <>
      <Section>
        <Heading>{sentence(message("swapping/partsCount", { count: swaps.length }))}</Heading>
        <Soft>{sentence(swaps.length ? "swapping/sharpnessShown" : "swapping/drawFirst")}</Soft>
        {smears && (
          <Card $open>
            {sentence("swapping/mergedOfAll")}
            <RowOf>
              {mergedFramesOf(records).map(({ frame }) => (
                <Button key={frame.id} isDisabled={readOnly || isBusy} onPress={() => void merge("base", { baseId: frame.id })}>
                  {sentence(message("common/frameNumber", { number: frameNumber(records, frame.id) }))}
                </Button>
              ))}
            </RowOf>
          </Card>
        )}
        {swaps.length > 1 && (
          <RowOf>
            <Button isDisabled={readOnly || isBusy} onPress={() => void takeBest()}>
              {sentence("swapping/takeBest")}
            </Button>
          </RowOf>
        )}
      </Section>
      {swaps.length > 0 && (
        <Scroll onKeyDownCapture={keys}>
          <Ledger
            label={sentence("swapping/partsAndFrames")}
            heads={[sentence("swapping/partHead"), ...frames.map((f) => String(frameNumber(records, f.id)))]}
            rows={swaps.map(({ id }) => ({ id }))}
            chosen={chosen?.id ?? null}
            onChoose={choose}
          >
            {swaps.map((swap) => {
              const best = rankedLooks(records, swap).order[0]?.frameId;
              const most = Math.max(...swap.looks.map((l) => l.sharpness));
              const number = takenFrom(records, swap);
              const word = number ? sentence(message("swapping/fromFrame", { number: frameNumber(records, number) })) : sentence("swapping/asItIs");
              return (
                <LedgerRow key={swap.id} id={swap.id}>
                  <LedgerCell>
                    <Figure value={swap.name} word={word} />
                  </LedgerCell>
                  {frames.map(({ id }) => {
                    const look = swap.looks.find((l) => l.frameId === id);
                    const figure = look?.found && most > 0 ? String(Math.round((100 * look.sharpness) / most)) : "–";
                    const isTaken = taken(swap) === id;
                    return (
                      <LedgerCell key={id}>
                        <FrameCell
                          type="button"
                          tabIndex={-1}
                          disabled={readOnly || isBusy}
                          $taken={isTaken}
                          $row={swap.id === chosen?.id}
                          aria-pressed={isTaken}
                          aria-label={sentence(
                            message("swapping/cell", { name: swap.name, number: frameNumber(records, id), figure, isBest: id === best ? "yes" : "no" }),
                          )}
                          onClick={() => {
                            choose(swap.id);
                            take(swap, id);
                          }}
                        >
                          {figure}
                          {id === best && " •"}
                        </FrameCell>
                      </LedgerCell>
                    );
                  })}
                </LedgerRow>
              );
            })}
          </Ledger>
        </Scroll>
      )}
    </>
  );
}
