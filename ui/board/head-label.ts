import type { Finish, Head } from '@/core/finish/finish';
import { stepName } from '@/core/finish/finish';
import { t } from '../words/words';

/** Short label of a strand's head. */
export function headLabel(doc: Finish, head: Head): string {
  switch (head.type) {
    case 'pass':
      return head.pass || 'beauty';
    case 'stack':
      return t`stack of ${head.layers.length} layers`;
    case 'mix':
      return t`${head.show === 'residual' ? t`residual` : t`mix`} of ${head.passes.length} passes`;
    case 'colour':
      return 'colour';
    case 'gradient':
      return 'gradient';
    case 'ids':
      return head.objects.length === 1 ? head.objects[0] : t`${head.objects.length} objects`;
    case 'shapes':
      return t`${head.shapes.length} shapes`;
    case 'input':
      return head.from
        ? `from ${doc.strands.find((s) => s.id === head.from?.strand)?.name ?? '?'}`
        : t`nothing linked`;
    case 'tap': {
      const from = doc.strands.find((s) => s.id === head.strand);
      const step = from?.steps.find((s) => s.id === head.after);
      return `from ${from?.name ?? '?'}${step ? ` after ${stepName(step)}` : ''}`;
    }
  }
}
