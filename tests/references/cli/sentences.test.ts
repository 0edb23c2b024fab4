/** Whatever is asked wrongly of the command line is answered in one line, before any work. */
import { mkdtempSync } from "node:fs";
import { join } from "node:path";
import { runMarsh, temporaryFolder } from "../../support/python";

const folder = temporaryFolder();
const nowhere = join(folder, "no-such-folder", "out.tif");

it.each([
  [
    ["register", "--region", "-5,3,4,4", "a.jpg", "b.jpg", "--reference", "a.jpg"],
    2,
    /^marsh: A region is x,y,w,h in whole px of the reference.*got "-5,3,4,4"\.$/,
  ],
  [["merge", "radiance", "a.jpg", "--focal", "3"], 2, /^marsh: There is no option "--focal"\. See marsh --help\.$/],
  [["register", "--model"], 2, /^marsh: The option --model needs a value, or takes none\. See marsh --help\.$/],
  [["develop", "a.jpg"], 2, /^marsh: There is no command "develop"\. See marsh --help\.$/],
  [["merge", "radiance", "a.jpg", "b.jpg", "-o", nowhere], 1, /^marsh: .*no-such-folder\/out\.tif cannot be written: there is no folder .*no-such-folder\.$/],
  [["merge", "radiance", "a.jpg", "b.jpg", "-o", mkdtempSync(join(folder, "is-"))], 1, /^marsh: .* cannot be written: it is a folder\.$/],
  [["inspect", join(folder, "missing.jpg")], 1, /missing\.jpg: The file does not exist\.$/m],
])("marsh %j", (args, code, sentence) => {
  const answer = runMarsh(args);
  expect(answer.code).toBe(code);
  expect((answer.err || answer.out).trim()).toMatch(sentence);
  if (answer.err.startsWith("marsh:")) expect(answer.err.trim().split("\n")).toHaveLength(1);
});
