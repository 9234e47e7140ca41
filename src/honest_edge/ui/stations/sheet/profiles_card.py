"""The machine, the printer and the stock of a job, chosen from profiles or changed value by value."""

from __future__ import annotations

from functools import partial

from PyQt6.QtWidgets import QDialog

from honest_edge.files.profiles import Kind, Profile
from honest_edge.ui.shared.host import Host
from honest_edge.ui.stations.sheet.card import Card
from honest_edge.ui.widgets.fields import Choice, button, label, row
from honest_edge.ui.widgets.theme import px

_KNOWN_PX = 34
_KINDS: tuple[tuple[Kind, str], ...] = (("machine", "Cutting machine"), ("printer", "Printer"), ("stock", "Stock"))


class ProfilesCard(Card):
    """Which profiles the job uses; they travel in it."""

    def __init__(self, host: Host) -> None:
        super().__init__(host, "Machine, printer and stock", topic="profiles", begins_open=True)
        self.choices: dict[Kind, Choice] = {}
        self.dialog: QDialog | None = None
        self._found: dict[Kind, list[Profile]] = {}
        for kind, name in _KINDS:
            choice = Choice(name, ())
            choice.chosen.connect(partial(self._choose, kind))
            edit = button("Edit…", partial(self.edit, kind))
            edit.setAccessibleName(f"Edit the {kind}")
            edit.setFixedWidth(px(64))
            self.choices[kind] = choice
            self.inside.addWidget(label(name))
            self.inside.addLayout(row(choice, edit))
        self.known = label("", "soft")
        self.known.setMinimumHeight(px(_KNOWN_PX))  # what the Book says comes later and moves nothing
        self.inside.addWidget(self.known)
        self.differs = label("", "look")
        self.to_shelf = button("See both on the shelf", lambda: host.go_to("book:shelf"), link=True)
        for widget in (self.differs, self.to_shelf):
            self.inside.addWidget(widget)
        self.problems = label("", "look")
        self.inside.addWidget(self.problems)

    def _present(self, kind: Kind) -> Profile:
        sheet = self.workspace.job.sheet
        return {"machine": sheet.machine, "printer": sheet.printer, "stock": sheet.stock}[kind]  # type: ignore[return-value]

    def _choose(self, kind: Kind, name: str) -> None:
        profile = next((one for one in self.host.profiles.all(kind) if one.name == name), None)
        if profile is not None:
            self._use(profile)

    def _use(self, profile: Profile) -> None:
        self.workspace.edit_job(f"take {profile.name}", sheet=self.workspace.job.sheet.with_profile(profile))

    def edit(self, kind: Kind) -> None:
        """Show a profile value by value."""
        from honest_edge.ui.shared.profile_dialog import (
            ProfileDialog,  # its controls are made when they are needed
        )

        dialog = ProfileDialog(self, self._present(kind), self.host.profiles, self.workspace.unit)
        self.dialog = dialog
        dialog.accepted.connect(lambda: self._use(dialog.profile))
        dialog.finished.connect(lambda _result: self._forget())
        dialog.open()

    def _forget(self) -> None:
        """List the profiles anew: one may have been kept."""
        self._found.clear()
        self.refresh()

    def refresh(self) -> None:
        """Show what there is to choose from, the job's own first where it is no profile of this user."""
        for kind, choice in self.choices.items():
            present = self._present(kind)
            if kind not in self._found:
                self._found[kind] = self.host.profiles.all(kind)
            names = [one.name for one in self._found[kind]]
            if present.name not in names:
                names = [present.name, *names]
            choice.clear()
            for name in names:
                choice.addItem(name, name)
            choice.show_value(present.name)
        self._show_differences()
        self.problems.setText("\n".join(self.host.profiles.problems))
        self.problems.setVisible(bool(self.host.profiles.problems))

    def _show_differences(self) -> None:
        """Say which copies differ from the profiles of their names; the shelf brings them together."""
        presents = [(self._present(kind), shelf) for kind, shelf in self._found.items()]
        names = [p.name for p, shelf in presents if any(one.name == p.name and one != p for one in shelf)]
        self.differs.setText(f"This job’s copy of {', '.join(names)} differs from yours." if names else "")
        for widget in (self.differs, self.to_shelf):
            widget.setVisible(bool(names))

    def show_known(self, words: str) -> None:
        """Say what setting cuts this stock on this machine."""
        self.known.setText(words)
