import { sentence } from "../messages/sentence";
import type { MetadataRoute } from "next";
import { RECEIVED_FIELD, RECEIVING } from "../storage/receivedFiles";
import { tokens } from "../ui/tokens/tokens";

/** What pictures and job files are to the system. */
const PICTURES = { "image/*": [".jpg", ".jpeg", ".png", ".tif", ".tiff", ".webp", ".avif", ".exr", ".hdr", ".ora", ".dng"] };
const JOBS = { "application/zip": [".marsh"] };

/** What the system shows of Marsh where it is installed. */
export default function manifest(): MetadataRoute.Manifest {
  return {
    id: "/",
    name: "Marsh",
    short_name: "Marsh",
    description: sentence("shell/description"),
    start_url: "/",
    scope: "/",
    display: "standalone",
    background_color: tokens.panel,
    theme_color: tokens.panel,
    file_handlers: [{ action: "/", accept: { ...PICTURES, ...JOBS } }],
    share_target: {
      action: RECEIVING,
      method: "post",
      enctype: "multipart/form-data",
      params: { files: [{ name: RECEIVED_FIELD, accept: Object.entries({ ...PICTURES, ...JOBS }).flat(2) }] },
    },
    icons: [
      { src: "/icons/marsh-192.png", sizes: "192x192", type: "image/png" },
      { src: "/icons/marsh-512.png", sizes: "512x512", type: "image/png" },
      { src: "/icons/marsh-512.png", sizes: "512x512", type: "image/png", purpose: "maskable" },
    ],
  };
}
