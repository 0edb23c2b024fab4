/** What the server refuses. */
export const SERVER = {
  "server.noDemo": "There is no demo job “{demo}”.",
  "server.noFile": "The demo job “{demo}” has no file “{file}”.",
  "server.unclear": "The request was not understood: {fault}.",
  "server.beyond": "The file has {bytes} bytes; what was asked for lies beyond its end.",
  "server.failed": "The server could not do this. Try it again.",
  "server.otherPage": "This is for the pages of Marsh alone.",
} as const;
