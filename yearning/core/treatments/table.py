"""Table."""

from yearning.core.colour.tables import PreparedTable
from yearning.core.treatment.base import Band, FrameContext, Treatment
from yearning.core.treatment.capabilities import ColourOnly
from yearning.core.treatment.settings import setting


class Table(ColourOnly, Treatment[PreparedTable | None]):
    """Colours looked up in a table: a .cube or CLF file.

    Three-dimensional tables are read between their points tetrahedrally; values go in and come out
    display-coded, and beyond the table's domain its surface holds.
    """

    kind = "table"
    stage = "colour"
    summary = "colours looked up in a .cube or CLF file"
    keywords = ("lut", "look-up table", "cube", "film emulation", "grade")

    file: str = setting(
        "", unit="file", label="File", help="Drop a .cube or .clf file on the page to add it."
    )

    def prepare(self, context: FrameContext) -> PreparedTable | None:
        """The table; None where no file is said: the picture stays as it is."""
        return context.assets.table(self.file) if self.file else None

    def apply(self, band: Band[PreparedTable | None]) -> None:
        """The picture through the table."""
        prepared: PreparedTable | None = band.prepared
        if prepared is None:
            band.copy_through()
        else:
            prepared.apply(band.picture, band.out, band.out_top)
