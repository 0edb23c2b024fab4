/** Whatever is asked wrongly of the command line is answered in one line, before any work. */
import { encode } from "fast-png";
import { copyFileSync, mkdtempSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { runMarsh, temporaryFolder } from "../../support/python";

const folder = temporaryFolder();
const JETTY = [1, 2, 3].map((k) => `demo/jetty/jetty-${k}.jpg`);
const BOARDWALK = [1, 2].map((k) => `demo/boardwalk/boardwalk-${k}.jpg`);
const twin = join(folder, "twin.jpg");
copyFileSync(JETTY[0], twin);
const plain = (name: string, width: number, height: number) => {
  const path = join(folder, name);
  writeFileSync(path, encode({ width, height, data: new Uint8Array(width * height).fill(255), channels: 1, depth: 8 }));
  return path;
};
const [white, small] = [plain("white.png", 1500, 1000), plain("small.png", 90, 60)];
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
  [["polish", "a.jpg"], 2, /^marsh: There is no command "polish"\. See marsh --help\.$/],
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
  [["matte", JETTY[0], "-o", join(folder, "a.tif")], 2, /^marsh: matte needs one of --box x,y,w,h, --trimap FILE, --clean FILE and --backdrop\.$/],
  [["matte", JETTY[0], "--box", "10,10,4", "-o", join(folder, "a.tif")], 2, /^marsh: --box is x,y,w,h in px; got "10,10,4"\.$/],
  [
    ["matte", JETTY[0], "--box", "10,10,90,90", "--keep", "90000,5,3", "-o", join(folder, "a.tif"), "--quiet"],
    2,
    /^marsh: The place 90000,5 lies outside of the picture, which is \d+×\d+ px\.$/,
  ],
  [["matte", JETTY[0], "--clean", BOARDWALK[0], "-o", join(folder, "a.tif"), "--quiet"], 1, /^marsh: .*(shows another view|boardwalk-1\.jpg: )/],
  [["matte", JETTY[0], "--backdrop", "-o", join(folder, "a.tif"), "--quiet"], 1, /^marsh: The borders of this picture are not one even backdrop\.$/],
  [
    ["matte", JETTY[0], "--trimap", white, "-o", join(folder, "a.tif"), "--quiet"],
    1,
    /^marsh: Nearly all of the picture is uncertain, or nothing is known of one side/,
  ],
  [["matte", JETTY[0], "--trimap", small, "-o", join(folder, "a.tif"), "--quiet"], 1, /small\.png: \d+×\d+ px, but the picture has \d+×\d+\.$/],
  [["inspect", join(folder, "missing.jpg")], 1, /missing\.jpg: The file does not exist\.$/m],
])("marsh %j", (args, code, sentence) => {
  const answer = runMarsh(args);
  expect(answer.code).toBe(code);
  expect((answer.err || answer.out).trim()).toMatch(sentence);
  if (answer.err.startsWith("marsh:")) expect(answer.err.trim().split("\n")).toHaveLength(1);
});
