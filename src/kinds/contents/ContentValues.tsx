"use client";
import { sentence } from "../../messages/sentence";
import { valueStep } from "../../messages/valueStep";
import type { PlainCode } from "../../messages/message";
import type { LayerRecord } from "../../document/records/layerTypes";
import { MeasuredControl } from "../../ui/components/MeasuredControl";
import { plain } from "../../ui/format";
import type { MeasuredValue } from "../values";
import type { LayerContent } from "./records";
import { setContent, showContent } from "./setContent";

/** A number that a layer's content holds, as it is set. */
export interface ContentValue<C> extends MeasuredValue {
  of: keyof C & string;
  name: PlainCode;
  hint?: PlainCode;
  /** where a value lies on the track, and back */
  along?: (value: number) => number;
  back?: (place: number) => number;
}

interface Props<C> {
  layer: LayerRecord;
  content: C;
  values: readonly ContentValue<C>[];
  isDisabled: boolean;
}

/** The numbers of a layer's content, one below the other. */
export function ContentValues<C extends LayerContent>({ layer, content, values, isDisabled }: Props<C>) {
  return values.map(({ of, name, hint, ...range }) => {
    const called = sentence(name);
    const changed = (value: number): C => ({ ...content, [of]: value });
    const { scale = 1, digits, unit } = range;
    return (
      <MeasuredControl
        key={of}
        {...range}
        name={called}
        value={content[of] as number}
        hint={hint && sentence(hint)}
        isDisabled={isDisabled}
        onPreview={(value) => showContent(layer, changed(value))}
        onChange={(value) => setContent(layer, changed(value), valueStep(called, plain(scale * value, digits), unit))}
      />
    );
  });
}
