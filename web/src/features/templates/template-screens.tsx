/** Package, facts and tasks of a template: those of a deal, without what only deals have. */
import { useSearch } from '@tanstack/react-router';
import { PackageList } from '../assembly/package-list';
import { FactList } from '../facts/fact-list';
import { TasksScreen } from '../tasks/tasks-screen';

export function TemplatePackage() {
  return <PackageList />;
}

export function TemplateFacts() {
  const { fact } = useSearch({ from: '/templates/$template/facts' });
  return <FactList wanted={fact} />;
}

export function TemplateTasks() {
  return <TasksScreen />;
}
