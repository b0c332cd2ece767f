import { useState } from 'react';
import type { ChildPage, Ladder, Stage } from '../../api/client';

function stagesOf(ladders: Ladder[]): Stage[] {
  return ladders.flatMap(({ stages }) => stages);
}

/** Which stages are open on the page and which checkpoint is looked at. */
export function useFocus(page: ChildPage) {
  const [toggled, setToggled] = useState<Record<string, boolean>>({});
  const [chosen, setChosen] = useState(page.firstLook);
  const stages = stagesOf(page.ladders);
  // A stage that was open when the child was opened stays so: observing moves nothing under the finger.
  const [openAtFirst] = useState(
    () => new Set(stages.filter(({ state }) => state === 'open').map(({ id }) => id)),
  );
  const isOpen = (stage: Stage) => toggled[stage.id] ?? (stage.wantsLook || openAtFirst.has(stage.id));
  const visible = stages.filter(isOpen).flatMap((stage) => stage.checkpoints);
  const selected = visible.find(({ id }) => id === chosen) ?? visible[0];

  const choose = (id: string) => {
    setChosen(id);
    requestAnimationFrame(() =>
      document.getElementById(`checkpoint-${id}`)?.scrollIntoView({ block: 'nearest' }),
    );
  };
  return {
    isOpen,
    selected,
    choose,
    select: setChosen,
    toggle: (stage: Stage) => setToggled((all) => ({ ...all, [stage.id]: !isOpen(stage) })),
    /** Opens the stage of a checkpoint, or a stage itself, and goes there. */
    goTo: (target: string) => {
      const stage = stages.find(
        ({ id, checkpoints }) => id === target || checkpoints.some((checkpoint) => checkpoint.id === target),
      );
      if (!stage) return;
      setToggled((all) => ({ ...all, [stage.id]: true }));
      choose(stage.id === target ? (stage.checkpoints[0]?.id ?? target) : target);
    },
    step: (by: number) => {
      const next = visible[visible.findIndex(({ id }) => id === selected?.id) + by];
      if (next) choose(next.id);
    },
  };
}

export type Focus = ReturnType<typeof useFocus>;
