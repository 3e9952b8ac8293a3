import {
  ChangeDetectionStrategy,
  Component,
  computed,
  effect,
  inject,
  input,
  output,
  signal,
  untracked,
} from '@angular/core';
import {
  readChatRules,
  RulesOfShow,
  saveChatRules,
  tryChatRules,
  type KeptRules,
} from '@juncta/contract/chat';
import type { BodyInput } from '@juncta/contract/http';
import { Store } from '@ngrx/store';
import { Api } from '../../api/api';
import { RequestState } from '../../api/request-state';
import { Key } from '../../look/keys/key';
import { lookTexts } from '../../look/look.texts';
import { Notice } from '../../look/notice';
import { Unsaved } from '../../look/unsaved';
import { listingsFeature } from '../../listings/listings.feature';
import { chatRuleTexts } from '../chat.texts';
import type { TrialAnswer, TrialRequest } from './trial.worker';

type Rule = KeptRules['rules'][number];
type Of = BodyInput<typeof saveChatRules>['of'];
/** Of a file that is tried: half a million messages. */
const MOST_BYTES = 200_000_000;
const WITH_LIST: readonly Rule['kind'][] = ['words', 'links', 'language'];
const WITH_FIGURE: readonly Rule['kind'][] = ['flood', 'repeat', 'new_account', 'long'];

/** The rules for messages, the house's and a show's own: changed, tried on what was written, saved. */
@Component({
  selector: 'jn-chat-rules',
  imports: [Key, Notice],
  templateUrl: './chat-rules.html',
  styleUrl: './chat-rules.scss',
  changeDetection: ChangeDetectionStrategy.OnPush,
})
export class ChatRules {
  private readonly api = inject(Api);
  protected readonly texts = chatRuleTexts;

  readonly showId = input.required<string>();
  readonly headingId = input.required<string>();
  readonly closed = output();

  protected readonly destinations = inject(Store).selectSignal(listingsFeature.selectDestinations);
  /** As they are kept. */
  private readonly kept = signal<RulesOfShow | null>(null);
  protected readonly of = signal<Of>('house');
  /** As they are being changed. */
  protected readonly rules = signal<readonly Rule[]>([]);
  readonly unsaved = new Unsaved(() => this.rules());
  protected readonly unsavedText = lookTexts.unsaved;
  protected readonly request = new RequestState();
  /** As somebody else changed them meanwhile; null: nobody did. */
  protected readonly theirs = signal<RulesOfShow | null>(null);
  protected readonly hasOwn = computed(() => this.kept()?.show != null);
  protected readonly holds = computed(() => {
    if (this.of() === 'show') return this.hasOwn() ? chatRuleTexts.ownHolds : chatRuleTexts.ownNone;
    return this.hasOwn() ? chatRuleTexts.showHolds : chatRuleTexts.houseHolds;
  });
  /** What became of the last press. */
  protected readonly told = signal<string | null>(null);
  protected readonly caught = signal<readonly { author: string; text: string }[]>([]);

  constructor() {
    effect(() => {
      const params = { showId: this.showId() };
      untracked(() =>
        this.request.run(this.api.call(readChatRules, { params }), (kept) => {
          this.take(kept, kept.show ? 'show' : 'house');
        }),
      );
    });
  }

  protected choose(of: Of, pressed: Event): void {
    const kept = this.kept();
    if (!kept || of === this.of()) return;
    if (this.unsaved.mayClose()) this.take(kept, of);
    // The mark stays where it was.
    else pressed.preventDefault();
  }

  private take(kept: RulesOfShow, of: Of): void {
    this.kept.set(kept);
    this.theirs.set(null);
    this.request.clear();
    this.told.set(null);
    this.of.set(of);
    this.rules.set((kept[of] ?? kept.house).rules);
    this.unsaved.settle();
  }

  protected close(): void {
    if (this.unsaved.mayClose()) this.closed.emit();
  }

  protected hasList = ({ kind }: Rule): boolean => WITH_LIST.includes(kind);
  protected hasFigure = ({ kind }: Rule): boolean => WITH_FIGURE.includes(kind);

  protected change(kind: Rule['kind'], values: Partial<Rule>): void {
    this.told.set(null);
    this.rules.update((rules) => rules.map((rule) => (rule.kind === kind ? { ...rule, ...values } : rule)));
  }

  protected lines(text: string): string[] {
    return text
      .split('\n')
      .map((line) => line.trim())
      .filter(Boolean);
  }

  /** None ticked: everywhere. */
  protected place(rule: Rule, destinationId: string, on: boolean): void {
    const others = rule.where.filter((id) => id !== destinationId);
    this.change(rule.kind, { where: on ? [...others, destinationId] : others });
  }

  protected whereOf({ where }: Rule): string {
    const names = this.destinations().flatMap(({ id, name }) => (where.includes(id) ? name : []));
    return names.length === 0 ? chatRuleTexts.everywhere : names.join(', ');
  }

  protected whole = (text: string): number => Math.max(1, Math.round(Number(text)) || 1);

  protected tryOut(): void {
    const body = { rules: [...this.rules()] };
    this.request.run(
      this.api.call(tryChatRules, { params: { showId: this.showId() }, body }),
      ({ messages, caught }) => {
        this.caught.set(caught);
        this.told.set(chatRuleTexts.tried(caught.length, messages));
      },
    );
  }

  /** On messages of another evening, as they were saved from it. Nothing of the file leaves this page. */
  protected async tryFile(files: FileList | null): Promise<void> {
    const file = files?.[0];
    if (!file) return;
    if (file.size > MOST_BYTES) {
      this.told.set(chatRuleTexts.tooLarge);
      return;
    }
    this.told.set(chatRuleTexts.reading);
    const worker = new Worker(new URL('./trial.worker', import.meta.url), { type: 'module' });
    worker.onmessage = ({ data }: MessageEvent<TrialAnswer>) => {
      worker.terminate();
      this.caught.set(data.caught);
      const tried = chatRuleTexts.tried(data.all, data.messages);
      const floods = data.floods.length > 0 ? ` ${chatRuleTexts.floods(data.floods.length)}` : '';
      const unread = data.unread > 0 ? ` ${chatRuleTexts.unread(data.unread)}` : '';
      this.told.set(tried + floods + unread);
    };
    worker.onerror = () => {
      worker.terminate();
      this.told.set(chatRuleTexts.unreadable);
    };
    // In a file destinations go by their names.
    const names = new Map(this.destinations().map(({ id, name }) => [id, name]));
    const rules = this.rules().map((rule) => ({
      ...rule,
      where: rule.where.map((id) => names.get(id) ?? id),
    }));
    worker.postMessage({ file: await file.text(), rules } satisfies TrialRequest);
  }

  protected save(): void {
    this.keep([...this.rules()], chatRuleTexts.saved);
  }

  protected dropOwn(): void {
    this.keep(null, chatRuleTexts.dropped);
  }

  /** What was changed here replaces what somebody else changed meanwhile. */
  protected keepMine(): void {
    const theirs = this.theirs();
    if (!theirs) return;
    this.kept.set(theirs);
    this.save();
  }

  protected takeTheirs(): void {
    const theirs = this.theirs();
    if (theirs) this.take(theirs, this.of());
  }

  private keep(rules: Rule[] | null, told: string): void {
    const of = this.of();
    const version = this.kept()?.[of]?.version ?? null;
    const params = { showId: this.showId() };
    this.request.run(
      this.api.call(saveChatRules, { params, body: { of, rules, version } }),
      (kept) => {
        this.take(kept, of === 'show' && !kept.show ? 'house' : of);
        this.told.set(told);
      },
      (error) => {
        const current = RulesOfShow.safeParse(error.current);
        this.theirs.set(error.code === 'changed_meanwhile' && current.success ? current.data : null);
      },
    );
  }
}
