export interface PicturePointer {
  x: number;
  y: number;
  pressure: number;
  /** whether it is the other end of a pen */
  eraser: boolean;
  /** 0, or 1 for the right one of two pictures side by side */
  pane: 0 | 1;
}

/** What a tool may do on the picture; without one a drag moves the picture. */
export interface PictureTool {
  cursor: string;
  /** diameter of a ring drawn at the pointer, picture px */
  ring?: number;
  /** works side by side too */
  beside?: boolean;
  down(p: PicturePointer): void;
  move?(p: PicturePointer[]): void;
  up?(): void;
}
