/** Whatever is asked wrongly of the command line is answered in one line, before any work. */
import { copyFileSync, mkdtempSync } from "node:fs";
import { join } from "node:path";
import { runMarsh, temporaryFolder } from "../../support/python";

const folder = temporaryFolder();
const JETTY = [1, 2, 3].map((k) => `demo/jetty/jetty-${k}.jpg`);
const BOARDWALK = [1, 2].map((k) => `demo/boardwalk/boardwalk-${k}.jpg`);
const twin = join(folder, "twin.jpg");
copyFileSync(JETTY[0], twin);
const nowhere = join(folder, "no-such-folder", "out.tif");

it.each([
  [
    ["register", "--region", "-5,3,4,4", "a.jpg", "b.jpg", "--reference", "a.jpg"],
    2,
    /^marsh: A region is x,y,w,h in whole px of the reference.*got "-5,3,4,4"\.$/,
  ],
  [["merge", "radiance", "a.jpg", "--focal", "3"], 2, /^marsh: There is no option "--focal"\. See marsh --help\.$/],
  [["panorama", "a.jpg", "b.jpg", "-o", "p.tif", "--bend", "120"], 2, /^marsh: --bend is a number from 0 to 100/],
  [["register", "--model"], 2, /^marsh: The option --model needs a value, or takes none\. See marsh --help\.$/],
  [["develop", "a.jpg"], 2, /^marsh: There is no command "develop"\. See marsh --help\.$/],
  [["merge", "radiance", "a.jpg", "b.jpg", "-o", nowhere], 1, /^marsh: .*no-such-folder\/out\.tif cannot be written: there is no folder .*no-such-folder\.$/],
  [["merge", "radiance", "a.jpg", "b.jpg", "-o", mkdtempSync(join(folder, "is-"))], 1, /^marsh: .* cannot be written: it is a folder\.$/],
  [["panorama", JETTY[0], twin, "-o", join(folder, "p.tif"), "--quiet"], 1, /^marsh: These frames all look the same way, or are one frame twice/],
  [["panorama", ...JETTY, "--focal-px", "900", "-o", join(folder, "p.tif"), "--quiet"], 1, /^marsh: These frames all look the same way/],
  [
    ["panorama", ...BOARDWALK, "--focal-px", "90", "-o", join(folder, "p.tif"), "--quiet"],
    1,
    /^marsh: With a focal length of 90 px these frames agree on no way/,
  ],
  [
    ["register", "--reference", JETTY[0], JETTY[1], "--ignore", "0,0,9000,9000", "--quiet"],
    0,
    /not registered\. Nearly all of the reference is marked as not to count, so there is nothing to line this frame up with: mark less of it\.$/,
  ],
  [["inspect", join(folder, "missing.jpg")], 1, /missing\.jpg: The file does not exist\.$/m],
])("marsh %j", (args, code, sentence) => {
  const answer = runMarsh(args);
  expect(answer.code).toBe(code);
  expect((answer.err || answer.out).trim()).toMatch(sentence);
  if (answer.err.startsWith("marsh:")) expect(answer.err.trim().split("\n")).toHaveLength(1);
});
