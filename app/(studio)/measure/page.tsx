import { BatchMeasure } from "@ui/features/batch-measure/batch-measure";

export default function Page() {
  return <BatchMeasure />;
}
