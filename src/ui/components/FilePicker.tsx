"use client";
import type { ReactNode } from "react";
import { FileTrigger } from "react-aria-components";
import { Button, PrimaryButton } from "./Button";

/** A button that opens the file dialog. */
export function FilePicker(props: {
  children: ReactNode;
  /** all files where missing: readers go by content */
  accept?: string[];
  multiple?: boolean;
  primary?: boolean;
  isDisabled?: boolean;
  onFiles: (files: File[]) => void;
}) {
  const Kind = props.primary ? PrimaryButton : Button;
  return (
    <FileTrigger acceptedFileTypes={props.accept} allowsMultiple={props.multiple} onSelect={(list) => list && props.onFiles([...list])}>
      <Kind isDisabled={props.isDisabled}>{props.children}</Kind>
    </FileTrigger>
  );
}
