"""Workers' processes."""

from distributed import Nanny, Status

from yearning.core.processes import main_left_out


class WorkerHost(Nanny):
    """Starts one worker's process, and starts it again if it dies."""

    async def instantiate(self) -> Status:
        """Start the process."""
        with main_left_out():
            return await super().instantiate()
