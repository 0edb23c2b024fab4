/** What is said of a merge, of places that moved, of regions and of Finish. */
export const MERGE = {
  "merge.alone": "Only frame {number} takes part, so there is nothing to merge it with.",
  "merge.noted": "frame {number} is noted at {told, number, ::.0 sign-except-zero} EV and measures {measured, number, ::.0 sign-except-zero} EV",
  "merge.contradicted":
    "The exposures that are noted and what the pixels show contradict each other: against the reference {frames}. Either a note is wrong or the light changed; what is merged and called moved may be wrong there.",
  "merge.clipped": "{percent} % of the picture is clipped even in frame {number}, the darkest: no frame has light for it.",
  "merge.equal":
    "The frames are equally exposed: merging them lowers noise but widens no range. A mean without outliers does the same and leaves out what moved.",
  "merge.focusOfBracket":
    "These frames lie {ev, number, ::.0} EV apart in exposure: a focus merge takes each place from one frame, so its brightness will change from place to place.",
  "merge.enlarged": "Frame {number} is shown {scale, number, ::.0} times as large as it was shot and lacks the detail of the others.",
  "merge.enlargedLight":
    "Frame {number} is shown {scale, number, ::.0} times as large as it was shot and lacks the detail of the others: it gives light mainly where they have none.",
  "merge.oneFocus": "Frame {number} is the sharpest in {percent} % of the picture: these frames are hardly a focus stack.",
  "merge.unused":
    "{count, plural, one {Frame} other {Frames}} {numbers} {count, plural, one {is} other {are}} unused: nothing of the picture comes from there.",
  "merge.noPart": "{count, plural, one {Frame} other {Frames}} {numbers} {count, plural, one {takes} other {take}} no part: not registered.",

  "matte.noSubject": "Nothing was found there that stands out from what lies around it: mark some of it to be kept, or draw the box wider than the thing.",
  "matte.allBand": "Nearly all of the picture is uncertain, or nothing is known of one side: some of it has to be surely in front, and some surely behind.",
  "matte.notEven": "The borders of this picture are not one even backdrop.",
  "matte.otherView": "The clean plate differs from the picture nearly everywhere: it shows another view, or another light.",

  "place.byHand": "Painted by hand.",
  "place.noneCovers": "No frame covers the whole place.",
  "place.leastClipped": "Every frame is clipped or moving here; frame {number} is clipped least ({percent} %).",
  "place.base": "Frame {number} is the base, and unclipped here.",
  "place.focusBase": "Frame {number} is the base.",
  "place.agrees":
    "Shows what {count, plural, one {frame} other {frames}} {numbers} {count, plural, one {shows} other {show}} too; unclipped, noise {percent} % of the light.",
  "place.calmest": "Nothing stands out along its border there; noise {percent} % of the light. No other frame shows the same.",
  "place.leastNoise": "Unclipped, with the least noise; noise {percent} % of the light. No other frame shows the same.",
  "place.sharpest": "Frame {number} is the sharpest over the whole place, which is shown as it was at one moment.",

  "aiming.only": "The only frame.",
  "aiming.light": "light, with its shade",
  "aiming.detail": "fine detail",
  "aiming.colour": "chroma with its range",
  "aiming.smooth": "ripple, less where it is not that of the others",
  "aiming.noise": "noise against the signal",
  "aiming.still": "unlike the other frames",
  "aiming.best": "Frame {number}: {measure} {value}, frame {other} {otherValue}.",
  "aiming.barred": "Frame {number}: {measure} {value}, frame {other} {otherValue}; frame {barred} has {barredValue} but {percent} % of it is lost.",
  "aiming.lost": "Frame {number}: {measure} {value}, frame {other} {otherValue}; {percent} % of it is lost here, in frame {whole} {wholePercent} %.",

  "best.only": "{clipped, number, ::.0} % clipped, noise {noise, number, ::.0} % of the signal.",
  "best.second":
    "{clipped, number, ::.0} % clipped, noise {noise, number, ::.0} % of the signal; frame {number} has {otherClipped, number, ::.0} % clipped and {times, number, ::.0} times the noise.",
  "finish.neutralPin": "Makes the neutral pin read neutral.",
  "finish.exposurePin": "Brings the pinned place to L* {target, number, ::.}.",
  "finish.headroom": "99.9 % of the scene lies below this.",
} as const;
