import { ReviewPage } from "@ui/features/review/review-page";

export default function Page() {
  return <ReviewPage />;
}
