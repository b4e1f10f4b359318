/// <reference types="vite/client" />

/** Of this build: what an older one kept in the browser is not read by it. */
declare const __VERSION__: string;
