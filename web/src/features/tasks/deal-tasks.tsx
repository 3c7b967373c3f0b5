/** A deal's tasks, the one that an address names opened. */
import { useSearch } from '@tanstack/react-router';
import { TasksScreen } from './tasks-screen';

export function DealTasks() {
  const { task } = useSearch({ from: '/deals/$deal/tasks' });
  return <TasksScreen wanted={task} />;
}
