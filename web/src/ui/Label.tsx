import { createContext, type ReactNode, useContext } from "react";

const After = createContext<ReactNode>(null);

/** What stands after the label of each control inside. */
export const AfterLabels = After.Provider;

/** What a control is called. */
export function Label({ children }: { children: ReactNode }) {
  return (
    <>
      {children}
      {useContext(After)}
    </>
  );
}
