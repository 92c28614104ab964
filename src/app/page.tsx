import { Board } from '@/ui/Board';

export default function BoardPage() {
  return <Board />;
}
