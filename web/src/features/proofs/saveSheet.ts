import { type ContactSheet, contactSheet } from "../../api/client";
import { bench } from "../../store/bench";
import { notice } from "../../store/notices";

/** Letters of a title, at the most. */
const LONGEST = 200;

/** Save pictures with their captions as a file: a PNG, or a PDF page. */
export async function saveSheet(
  what: string,
  file: "png" | "pdf",
  sheet: Omit<ContactSheet, "title" | "file">,
) {
  const title = `${bench().shared?.name ?? ""}: ${what}`.slice(0, LONGEST);
  try {
    const address = URL.createObjectURL(await contactSheet({ ...sheet, title, file }));
    const link = document.createElement("a");
    link.href = address;
    link.download = `${title.replace(/[^\p{L}\p{N}]+/gu, "-")}.${file}`;
    link.click();
    URL.revokeObjectURL(address);
  } catch (error) {
    notice("look", error);
  }
}
