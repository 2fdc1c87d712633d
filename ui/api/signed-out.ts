import { create } from "zustand";

/** Whether the server has said that nobody is signed in: the page stays as it is, and asks for it. */
export const useSignedOut = create<{ signedOut: boolean }>(() => ({ signedOut: false }));
