import { KeysSheet } from "@ui/workspace/keys-sheet";

export default function KeysPage() {
  return <KeysSheet />;
}
