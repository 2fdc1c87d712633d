import { MemberReview } from "@ui/features/review/member-review";

export default async function Page({ params }: { params: Promise<{ review: string }> }) {
  return <MemberReview review={(await params).review} />;
}
