"""The running server answers the device protocol as its own description says, whatever is sent."""

import threading
from types import SimpleNamespace

import pytest
import schemathesis
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st
from schemathesis import GenerationMode
from schemathesis.checks import not_a_server_error
from schemathesis.specs.openapi.checks import (
    content_type_conformance,
    response_schema_conformance,
    status_code_conformance,
)

from kyklos import serving
from kyklos.actions import devices, pairing
from kyklos.clock import system_clock
from kyklos.serving.app import create_app
from kyklos.store.file.database import Database

from ..conftest import doing, make_kitchen

CHECKS = (not_a_server_error, status_code_conformance, content_type_conformance, response_schema_conformance)


@pytest.fixture(scope="module")
def house(empty_file, tmp_path_factory):
    """A household that is served, with a token of each kind of device."""
    path = tmp_path_factory.mktemp("described") / "kyklos.db"
    path.write_bytes(empty_file.read_bytes())
    database, tokens = Database(path), {}
    kitchen = make_kitchen(database, system_clock)
    for kind in ("thermometer", "heater", "weather"):
        with database.writer() as session:
            code = pairing.ask_pairing(session, kind, kind, "", "here", system_clock()).code
        number = doing(database, system_clock)(devices.approve_pairing, devices.ApprovePairing(code=code, vessel_id=kitchen.vessel)).made["device"]
        with database.writer() as session:
            tokens[kind] = pairing.give_token(session, number)
    server = serving.make(create_app(database, system_clock, "described"), "127.0.0.1", 0)
    thread = threading.Thread(target=serving.run, args=(server,), daemon=True)
    thread.start()
    yield SimpleNamespace(url=f"http://127.0.0.1:{server.port}", tokens=tokens)
    server.stop()
    thread.join(2)


@pytest.fixture(scope="module")
def described(house):
    """The description, as the server gives it."""
    return schemathesis.openapi.from_url(f"{house.url}/devices/v1/openapi.json")


@pytest.mark.parametrize("call", [("/pair", "post"), ("/pair/{pairing}", "get"), ("/readings", "post"), ("/setpoint", "get"), ("/outlook", "post"), ("/openapi.json", "get")], ids=str)
@settings(max_examples=20, deadline=None, suppress_health_check=list(HealthCheck), database=None, derandomize=True)
@given(data=st.data())
def test_every_answer_is_described(described, house, call, data):
    """Whatever of the described shapes is sent, and much that is not: no answer outside the description, no trace."""
    path, method = call
    case = data.draw(described[path][method].as_strategy(data.draw(st.sampled_from([GenerationMode.POSITIVE, GenerationMode.NEGATIVE]))))
    kind = {"/setpoint": "heater", "/outlook": "weather"}.get(path, "thermometer")
    case.call_and_validate(base_url=f"{house.url}/devices/v1", headers={"Authorization": f"Bearer {house.tokens[kind]}"}, checks=CHECKS)
