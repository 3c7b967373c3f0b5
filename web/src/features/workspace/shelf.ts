/** Where unsent edits are kept in the browser: each under a key of its own, so that two windows never write over each other. */
export interface Shelf {
  all: (prefix: string) => [string, string][];
  put: (key: string, text: string) => void;
  drop: (key: string) => void;
}

export const browserShelf: Shelf = {
  all: (prefix) => {
    const keys = Array.from({ length: localStorage.length }, (_, n) => localStorage.key(n) ?? '').filter((k) =>
      k.startsWith(prefix),
    );
    return keys.sort().map((k) => [k, localStorage.getItem(k) ?? '']);
  },
  put: (key, text) => {
    try {
      localStorage.setItem(key, text);
    } catch {
      // A full store keeps nothing more; the edit is still here and on its way.
    }
  },
  drop: (key) => localStorage.removeItem(key),
};
