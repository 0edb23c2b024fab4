import { page, shot, demo, stage, press, quiet, fill, merged, picture, settle, context } from "./tmp_prelude.mjs";
await merged("doorway", 5); await stage("Finish"); await settle();
await press("Propose renderings");
await page.getByText("As merged").waitFor(); await quiet(); await page.waitForTimeout(2500);
await page.getByText("As merged").scrollIntoViewIfNeeded(); await shot("renderings");
await press("Soft"); await settle(); await page.waitForTimeout(1500); await shot("rendering-soft");
await page.setViewportSize({ width: 1024, height: 768 }); await shot("finish-tablet");
await stage("Gather"); await page.waitForTimeout(1500); await page.screenshot({ path: "/tmp/shots/gather-tablet.png" });
await context.close();
