import { page, shot, demo, stage, press, quiet, fill, merged, picture, settle, context } from "./tmp_prelude.mjs";
await merged("doorway", 5); await stage("Proof"); await page.getByText(/open finding|Nothing open/).first().waitFor(); await quiet(); await shot("proof-bare");
await press("Wrenfold Matte Rag"); await page.getByText("Darkest ink").waitFor(); await quiet(); await press("Out of gamut"); await shot("proof-gamut");
await press("Prints black"); await shot("proof-blocked");
await press("Nothing"); await press("Side by side"); await press("As printed").catch(()=>{}); await shot("proof-printed");
await context.close();
