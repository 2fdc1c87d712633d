/** Changes whenever the same recipe may give other bytes. Part of every key under which a result is kept. */
export const CORE_VERSION = "15";
