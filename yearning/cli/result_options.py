"""How results are written and by what, as commands are asked."""

from typing import Annotated

import typer

from yearning.cli.options import completing
from yearning.farm.settings import MAX_WORKERS
from yearning.media.codecs import CODECS, QUALITIES

QualityOption = Annotated[
    str, typer.Option(help=" | ".join(QUALITIES), autocompletion=completing(QUALITIES))
]
CodecOption = Annotated[
    str | None, typer.Option(help=" | ".join(CODECS), autocompletion=completing(CODECS))
]
BitsOption = Annotated[int | None, typer.Option(help="Bits a channel; else as the footage.")]
HeightOption = Annotated[int | None, typer.Option(help="Lines of a smaller result.")]
WorkersOption = Annotated[
    int | None,
    typer.Option(help="Processes on this machine; one a core if left out.", min=1, max=MAX_WORKERS),
]
ClusterOption = Annotated[
    str | None,
    typer.Option(help="A Dask scheduler whose workers see the same folders: tcp://HOST:PORT."),
]
