import { MeterWindow } from "@ui/meters/meter-window";

export default function MetersPage() {
  return <MeterWindow />;
}
