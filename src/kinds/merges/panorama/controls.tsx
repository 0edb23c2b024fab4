"use client";
import { sentence } from "../../../messages/sentence";
import { message } from "../../../messages/message";
import { frameNumber } from "../../../document/selectors";
import { useSession } from "../../../session/store";
import { TextButton } from "../../../ui/components/Button";
import { Heading, Section, Soft, Table } from "../../../ui/components/panels";
import { pixels, plain } from "../../../ui/format";
import { jumpTo } from "../../../view/viewState";
import type { ControlsProps, MergeControls } from "../controlling";

/** Difference that an eye finds along a line, ΔE2000. Common practice, no source. */
const VISIBLE = 2;
const AROUND = 300;

/** Where frames meet, and how far apart they are there before they are blended; the most visible first. */
function SeamSection({ record }: ControlsProps<"panorama">) {
  const records = useSession((s) => s.records);
  const seams = record.seams ?? [];
  const worst = seams[0];
  return (
    <>
      <Section>
        <Heading>{sentence("merge/seams")}</Heading>
        <Soft>
          {!worst
            ? sentence("merge/noTwoFramesMeet")
            : sentence(
                message("merge/meanDifferenceBothFrames", {
                  value: worst.deltaE < VISIBLE ? sentence("merge/noneWouldSeen") : sentence("merge/firstCouldSeenPaint"),
                }),
              )}
        </Soft>
      </Section>
      {seams.length > 0 && (
        <Table aria-label={sentence("merge/seams")}>
          <thead>
            <tr>
              <th>{sentence("common/frames")}</th>
              <th>{sentence("merge/length")}</th>
              <th>{sentence("merge/mean")}</th>
              <th>{sentence("merge/worstPlace")}</th>
            </tr>
          </thead>
          <tbody>
            {seams.map((s) => (
              <tr key={`${s.aId}-${s.bId}`}>
                <td>{sentence(message("common/andNumber", { number: frameNumber(records, s.aId), number2: frameNumber(records, s.bId) }))}</td>
                <td>{pixels(s.lengthPx)}</td>
                <td>{plain(s.deltaE, 2)}</td>
                <td>
                  <TextButton
                    aria-label={sentence(message("merge/showWorstPlaceBetween", { number: frameNumber(records, s.aId), number2: frameNumber(records, s.bId) }))}
                    onPress={() => jumpTo({ x: s.worst.x - AROUND / 2, y: s.worst.y - AROUND / 2, width: AROUND, height: AROUND })}
                  >
                    {plain(s.worst.deltaE, 1)}
                  </TextButton>
                </td>
              </tr>
            ))}
          </tbody>
        </Table>
      )}
    </>
  );
}

export const panorama: MergeControls<"panorama"> = { Controls: SeamSection };
