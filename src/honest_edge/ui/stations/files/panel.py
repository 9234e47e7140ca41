"""Files: what will be written, what still needs a look, and how to print it."""

from __future__ import annotations

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QProgressBar

from honest_edge.core.values.findings import Finding
from honest_edge.ui.shared.finding_list import FindingList
from honest_edge.ui.shared.folder_links import FolderLinks
from honest_edge.ui.shared.host import Host
from honest_edge.ui.shared.panel import Panel
from honest_edge.ui.stations.files.setting_card import SettingCard
from honest_edge.ui.stations.files.state import FilesActs
from honest_edge.ui.widgets.fields import Choice, ElidedLabel, Form, button, card, greyed, label, row
from honest_edge.ui.widgets.theme import px

_KNOWN_PX = 82


class FilesPanel(Panel):
    """Ready to write?"""

    topic = "files"
    habit = "files"

    def __init__(self, host: Host, question: str, acts: FilesActs) -> None:
        self._acts = acts
        self._wrong: tuple[Finding, ...] = ()
        super().__init__(host, question)

    def build(self) -> None:
        """Add the cards."""
        self.folder = ElidedLabel()
        self.choose = button("Choose…", self._acts.choose_folder)
        self.links = FolderLinks(lambda: self.workspace.place.folder)
        self.column.addWidget(self.folder)
        self.column.addLayout(row(self.choose, self.links))
        form = Form(narrow=True)
        self.kind = Choice("Print file", (("", "PDF"), ("300", "PNG 300 ppi"), ("600", "PNG 600 ppi")))
        self.kind.chosen.connect(self._choose_kind)
        form.add("Print file", self.kind, "A PDF keeps lines sharp; some programs take only pictures.")
        self.column.addWidget(form)
        self.write = button("Write files", self._acts.write, filled=True)
        self.print = button("Print…", self._acts.print)
        self.print.setToolTip("Send the sheets straight to a printer, unscaled (Ctrl+P)")
        self.column.addLayout(row(self.write, self.print))
        self.progress = QProgressBar()
        self.progress.setTextVisible(False)
        self.progress_words = label("", "soft")
        self.cancel = button("Cancel", self._acts.call_off)
        for widget in (self.progress, self.progress_words, self.cancel):
            self.column.addWidget(widget)
        self.set_progress(None, "")
        self.keep = button("I cut this…", self._acts.keep_outcome)
        self.keep.setToolTip("Keep how many came out good, and why some did not: the Book then says what worked")
        self.known = label("", "soft")
        self.test_cut = button("Find a setting by a test cut", lambda: self.host.go_to("book:test cuts"), link=True)
        self.known.setMinimumHeight(px(_KNOWN_PX))  # what the Book says comes later and moves nothing
        self.known.setAlignment(Qt.AlignmentFlag.AlignTop)
        policy = self.test_cut.sizePolicy()
        policy.setRetainSizeWhenHidden(True)
        self.test_cut.setSizePolicy(policy)
        self.test_cut.hide()
        for widget in (self.keep, self.known, self.test_cut):
            self.column.addWidget(widget)
        self.setting = SettingCard(self.host)
        self.column.addWidget(self.setting.widget)
        self.written, inside = card(topic="files")
        inside.addWidget(label("What is written", "heading"))
        self.names = label("", "figures")
        inside.addWidget(self.names)
        self.column.addWidget(self.written)
        self.findings = FindingList(self.host)
        self.column.addWidget(self.findings)
        frame, inside = card(topic="printing")
        inside.addWidget(label("When printing", "heading"))
        inside.addWidget(
            label(
                "“Print…” does it unscaled; another program has to print at 100 %, never “fit to page”. Take the "
                "paper chosen here and the best quality; then measure the printed ruler: it must be 50 mm long. "
                "Colours are sRGB; the printer’s driver turns them into its inks. After printing, change nothing: "
                "print and cut must match.",
                "soft",
            )
        )
        self.column.addWidget(frame)

    def _choose_kind(self, ppi: str) -> None:
        self.workspace.edit_job("kind of print file", png_ppi=float(ppi) if ppi else None)

    def show_known(self, words: str, *, has_setting: bool) -> None:
        """Say what is known of cutting this stock; where no setting is, how one is found."""
        self.known.setText(words)
        self.test_cut.setVisible(bool(words) and not has_setting)

    def set_progress(self, share: float | None, words: str) -> None:
        """Show how far writing is; None hides it."""
        working = share is not None
        self.progress.setVisible(working)
        self.progress_words.setVisible(working)
        self.cancel.setVisible(working)
        self.write.setVisible(not working)
        self.print.setVisible(not working)
        self.progress.setRange(0, 1000)
        self.progress.setValue(round(1000 * (share or 0)))
        self.progress_words.setText(words)

    def _often(self, pages: int) -> str:
        """Return which sheets are printed more than once, as the rest of a sentence."""
        job = self.workspace.overview.job
        often = [f"sheet {page + 1} {job.prints_of(page)} times" for page in range(pages) if job.prints_of(page) > 1]
        return f"; print {', '.join(often)}" if often else ""

    def show_written(self, wrong: tuple[Finding, ...]) -> None:
        """Say what is wrong with files that were written."""
        self._wrong = wrong
        self._show_findings()

    def _why_unprinted(self, *, is_printed: bool) -> str:
        if not is_printed:
            return "Nothing is printed in this job"
        own_marks = self.workspace.job.sheet.machine.prints_own_marks
        return "The cutter’s own program prints this: give it the files" if own_marks else ""

    def _show_findings(self) -> None:
        overview = self.workspace.overview
        findings = (*self._wrong, *overview.every_finding)
        self.findings.show_findings([(overview.named(one), one) for one in findings])

    def _show_folder(self) -> None:
        """Show where the files go, and let the folder be shown once it is there."""
        has_art = bool(self.workspace.job.designs)
        folder = self.workspace.place.folder if has_art else None
        self.folder.set_full_text("" if folder is None else str(folder))
        greyed(self.choose, "" if has_art else "There is no art yet")
        is_there = folder is not None and folder.is_dir()
        greyed(self.links.show_it, "" if is_there else "It is made when the files are written")
        greyed(self.links.copy, "" if has_art else "There is no art yet")

    def refresh(self) -> None:
        """Show what would be written."""
        plan, overview = self.workspace.overview.plan, self.workspace.overview
        ppi = self.workspace.job.png_ppi
        self.setting.refresh()
        self.kind.show_value("" if ppi is None else f"{ppi:.0f}")
        own_marks = self.workspace.job.sheet.machine.prints_own_marks
        greyed(self.kind, "The cutter’s own program gets pictures of one exact extent" if own_marks else "")
        self._show_folder()
        why_not = overview.why_unwritten or ""
        greyed(self.write, why_not)
        self.written.setVisible(plan is not None)
        greyed(self.keep, why_not)
        is_printed = plan is not None and None in plan.stocks
        greyed(self.print, why_not or self._why_unprinted(is_printed=is_printed))
        self._show_findings()
        if plan is None:
            self.answer.setText("–")
            self.under.setText(overview.state("files")[1])
            self.write.setText("Write files")
            return
        from honest_edge.app.output.prepare_files import output_names  # loaded by now: there is a plan

        names = output_names(plan, overview.job, overview.laid)
        self.answer.setText(f"{len(names)} files")
        self.under.setText(
            f"for {len(plan.pages)} sheet{'s' if len(plan.pages) != 1 else ''}, print and cut of one extent"
            f"{self._often(len(plan.pages))}"
        )
        if why_not:
            self.answer.setText("Not yet")
            self.under.setText(f"{overview.why_unwritten}.")
        self.names.setText("\n".join(names if len(names) <= 12 else (*names[:11], f"… and {len(names) - 11} more")))
        self.write.setText(f"Write {len(names)} files")
