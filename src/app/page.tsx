import { Board } from '@/ui/Board';
import { boardScreen } from '@/ui/questions';
import { conditionsIn, type Asked } from './asked';
import { FirstAnswers } from './FirstAnswers';

export default async function BoardPage({ searchParams }: { searchParams: Asked }) {
  return (
    <FirstAnswers to={boardScreen(await conditionsIn(searchParams))}>
      <Board />
    </FirstAnswers>
  );
}
