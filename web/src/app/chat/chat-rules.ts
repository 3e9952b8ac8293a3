import { ChangeDetectionStrategy, Component, inject, input, output, signal } from '@angular/core';
import { readChatRules, saveChatRules, tryChatRules } from '@juncta/contract/chat';
import type { BodyInput } from '@juncta/contract/http';
import type { ErrorBody } from '@juncta/contract/errors';
import { Api } from '../api/api';
import { Key } from '../look/key';
import { Notice } from '../look/notice';
import { chatRuleTexts } from './chat.texts';

type Rule = BodyInput<typeof saveChatRules>['rules'][number];
const WITH_LIST: readonly Rule['kind'][] = ['words', 'links'];
const WITH_FIGURE: readonly Rule['kind'][] = ['flood', 'repeat', 'long'];

/** The house's rules for messages: changed, tried on what was written, saved. */
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

  protected readonly rules = signal<readonly Rule[]>([]);
  protected readonly error = signal<ErrorBody | null>(null);
  /** What became of the last press. */
  protected readonly told = signal<string | null>(null);
  protected readonly caught = signal<readonly { author: string; text: string }[]>([]);

  constructor() {
    this.api.call(readChatRules).subscribe({
      next: ({ rules }) => this.rules.set(rules),
      error: (error: ErrorBody) => this.error.set(error),
    });
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

  protected whole = (text: string): number => Math.max(1, Math.round(Number(text)) || 1);

  protected tryOut(): void {
    const body = { rules: [...this.rules()] };
    this.api.call(tryChatRules, { params: { showId: this.showId() }, body }).subscribe({
      next: ({ messages, caught }) => {
        this.error.set(null);
        this.caught.set(caught);
        this.told.set(chatRuleTexts.tried(caught.length, messages));
      },
      error: (error: ErrorBody) => this.error.set(error),
    });
  }

  protected save(): void {
    this.api.call(saveChatRules, { body: { rules: [...this.rules()] } }).subscribe({
      next: ({ rules }) => {
        this.rules.set(rules);
        this.error.set(null);
        this.told.set(chatRuleTexts.saved);
      },
      error: (error: ErrorBody) => this.error.set(error),
    });
  }
}
