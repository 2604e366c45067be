"""Sending readings, as any script would."""

import json
import urllib.error
import urllib.request
from datetime import UTC, datetime
from uuid import uuid4

from northfold.devices.stand_ins.instruments import Shown

# What is not answered by then is sent anew with the next reading. [s]
WAITS_S = 5.0
# Nothing on the way: a stand-in sends to its own machine.
straight = urllib.request.build_opener(urllib.request.ProxyHandler({}))


def send(address: str, key: str, shown: Shown, quantity: str, unit: str) -> int:
    """Send a reading to the address of its device; the answer's status, 0 where nobody answers."""
    told = {
        "id": str(uuid4()), "at": datetime.now(UTC).isoformat(), "quantity": quantity, "value": shown.value,
        "unit": unit, "stable": shown.stable,
    }  # fmt: skip
    asked = urllib.request.Request(
        address, json.dumps(told).encode(), {"Authorization": f"Bearer {key}", "Content-Type": "application/json"}
    )
    try:
        with straight.open(asked, timeout=WAITS_S) as answer:
            return int(answer.status)
    except urllib.error.HTTPError as error:
        return error.code
    except OSError:
        return 0
