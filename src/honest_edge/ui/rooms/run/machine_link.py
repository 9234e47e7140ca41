"""The process that holds the way to a machine, as this window hears it; and the practice cutter."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any, cast

from PyQt6.QtCore import QObject, QTimer, pyqtSignal

if TYPE_CHECKING:
    from honest_edge.app.results.progress import IsCancelled, ReportProgress
    from honest_edge.core.values.machine import Machine
    from honest_edge.files.machine_parent import MachineChild, StandIn
    from honest_edge.ui.shared.host import Host

_HEAR_MS = 20  # how often the process is listened to


class MachineLink(QObject):
    """Opens, tells, hears and leaves; it knows nothing of what is cut."""

    said = pyqtSignal(object)
    """What the process said, one thing after the other."""
    gone = pyqtSignal()
    """It ended by itself."""
    switched_on = pyqtSignal(object, object)
    """The practice cutter listens: where, and as which machine."""

    def __init__(self, host: Host) -> None:
        super().__init__()
        self._child: MachineChild | None = None
        self._stand_in: StandIn | None = None
        self._hearing = QTimer(self)
        self._hearing.setInterval(_HEAR_MS)
        self._hearing.timeout.connect(self._hear)
        self._switching = host.new_task()
        self._switching.done.connect(lambda found: self._on_switched(*cast("tuple[StandIn, Machine]", found)))
        self._switching.failed.connect(lambda words: self.said.emit({"failed": words}))

    @property
    def is_held(self) -> bool:
        """Whether there is a process."""
        return self._child is not None

    def open(self, to: str, machine: Machine) -> None:
        """Start a process and let it open a way; an earlier one is left."""
        from honest_edge.files.machine_parent import MachineChild
        from honest_edge.files.machine_process import written_machine

        self.leave()
        self._child = MachineChild()
        self._hearing.start()
        self.say(do="open", to=to, language=machine.direct.language, machine=written_machine(machine))

    def say(self, **what: Any) -> None:
        """Tell the process what to do."""
        if self._child is not None and not self._child.say(**what):
            self._end()

    def leave(self) -> None:
        """Tell it nothing any more: it finishes its line and ends. This may be any thread."""
        child, self._child = self._child, None
        if child is not None:
            child.leave()

    def _hear(self) -> None:
        child = self._child
        if child is None:
            self._hearing.stop()
            return
        said, has_ended = child.heard()
        for what in said:
            self.said.emit(what)
        if has_ended and child is self._child:
            self._end()

    def _end(self) -> None:
        self.leave()
        self.gone.emit()

    # -- the practice cutter -------------------------------------------------------------------------------

    def switch_on(self, machine: Machine) -> None:
        """Start the practice cutter, a process of its own, beside the window's thread."""

        def work(*, report: ReportProgress, cancelled: IsCancelled) -> tuple[StandIn, Machine]:
            from honest_edge.files.machine_parent import StandIn

            return StandIn(machine.direct.language, machine.width_mm, machine.length_mm), machine

        self._switching.submit(work)

    def switch_off(self) -> None:
        """End the practice cutter, where it is on. This may be any thread."""
        stand_in, self._stand_in = self._stand_in, None
        if stand_in is not None:
            stand_in.close()

    def _on_switched(self, stand_in: StandIn, machine: Machine) -> None:
        self.switch_off()
        self._stand_in = stand_in
        self.switched_on.emit(stand_in.to, machine)
