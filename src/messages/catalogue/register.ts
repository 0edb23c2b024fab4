/** How frames lie on each other, and why some do not. */
export const REGISTER = {
  "placing.none": "Not registered.",
  "placing.lineUp": "{why} Line it up by control points, or leave it out.",
  "placing.tooSmall": "The frame is only {size} px; registration needs at least 32×32.",
  "placing.masked": "Nearly all of the reference is marked as not to count, so there is nothing to line this frame up with: mark less of it.",
  "placing.exposure":
    "No other frame is nearer than {ev, number, ::.0} EV in exposure, so hardly any light is usable in both. Add a frame between them, or use control points.",
  "placing.blurred": "The frame is blurred: its edges are {width, number, ::.0} px wide, {usual, number, ::.0} px in the other frames.",
  "placing.othersBlurred": "The other frames are blurred: their edges are {usual, number, ::.0} px wide, {width, number, ::.0} px in this one.",
  "placing.noisy": "The frame is so noisy (standard deviation {sigma, number, ::.} of 255 in its flat areas) that too little of it can be told apart.",
  "placing.plain": "The frame has hardly any structure to hold on to.",
  "placing.otherSize": "The frame has another size and no part of it was found in the reference.",
  "placing.unlike":
    "Too little of this frame agrees with any other frame, or only one part of it does: it shows another scene, overlaps too little, or is nearly empty.",

  "reference.middle": "{percent, number, ::.0} % clipped, and the middle of the ladder, so every other frame is few steps away.",
  "reference.shares": "{percent, number, ::.0} % clipped, and it shares most usable light with the others.",
  "reference.byHand": "Chosen by hand.",
  "reference.looks": "It looks at the middle of the picture.",

  "panorama.twoFrames": "A panorama needs at least two frames that overlap.",
  "panorama.noOverlap":
    "No two of these {count} frames overlap so that it can be told for certain: too little structure in common, or nothing in common at all.",
  "panorama.focalLength":
    "With a focal length of {px} px these frames agree on no way in which the camera was turned: leave it out, so that it is measured, or give another.",
  "panorama.littleStructure": "These frames show too little structure in common to tell how the camera was turned.",
  "panorama.sameWay": "These frames all look the same way, or are one frame twice: nothing is turned between them, so they make no panorama.",
  "panorama.focalUnsure":
    "The focal length cannot be told from these overlaps better than to {percent, number, ::.} %: give it in px, or add frames that overlap more.",
  "panorama.focalUnknown": "The focal length cannot be told from these overlaps at all: give it in px, or add frames that overlap more.",
  "panorama.tooWide": "The frames show {across}° by {down}°, which is more than a {projection} picture can show.",
  "panorama.notOne": "These frames were not registered as a panorama.",

  "left.otherFocalLength": "It shows the same things {scale, number, ::.00} times as large: it was taken at another focal length.",
  "left.mirrored": "It is mirrored: it overlaps the others only when flipped sideways.",
  "left.otherPanorama": "It belongs to another panorama, together with {count, plural, one {# other frame} other {# other frames}}.",
  "left.plain": "It has too little structure to tell where it belongs.",
  "left.noOverlap": "It overlaps no other frame so that it can be told for certain.",
  "left.direction": "Its direction could only be told to {degrees, number, ::.00}°: too little structure where it overlaps the others.",
  "left.fewAgree": "It seemed to overlap the others, but patch by patch too few places agree.",

  "projecting.rectilinear":
    "{across, number, ::.}° wide and {down, number, ::.}° high: rectilinear keeps every straight line straight and stretches by {stretch, number, ::.00} at most.",
  "projecting.adaptive":
    "{across, number, ::.}° wide and {down, number, ::.}° high: adaptive keeps verticals straight and stretches by {stretch, number, ::.00}.",
  "projecting.adaptiveInstead":
    "{across, number, ::.}° wide and {down, number, ::.}° high: adaptive keeps verticals straight and stretches by {stretch, number, ::.00}, where rectilinear would stretch by {plain, number, ::.0}.",
  "projecting.cylindrical": "{across, number, ::.}° wide and {down, number, ::.}° high: cylindrical keeps verticals and the horizon straight at any width.",
  "projecting.equirectangular": "{across, number, ::.}° wide and {down, number, ::.}° high: only equirectangular shows all of it without endless stretch.",

  "registering.none": "Nothing is registered yet: register the frames first.",
  "registering.frameGone": "That frame is no longer part of the registration.",
} as const;
