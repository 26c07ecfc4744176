"""The host's own ways in, described as OpenAPI 3.1: for tests of other makers, and for readers."""

from typing import Any

__all__ = ["openapi"]

_TEXT = {"type": "string"}
_WORDS = {"200": "taken", "400": "not understood", "404": "not there", "410": "no longer",
          "413": "too much", "422": "an answer is wrong", "428": "proof of work is asked for",
          "429": "too many", "503": "not well", "507": "could not be kept"}


def _answers(*codes: int) -> dict[str, Any]:
    return {str(code): {"description": _WORDS.get(str(code), "done")} for code in codes}


def _in_path(*names: str) -> list[dict[str, Any]]:
    return [{"name": name, "in": "path", "required": True, "schema": _TEXT} for name in names]


def _json(**fields: Any) -> dict[str, Any]:
    schema = {"type": "object", "properties": fields, "required": ["page", "variant"]}
    return {"required": True, "content": {"application/json": {"schema": schema}}}


_FORM = {"required": True, "content": {"application/x-www-form-urlencoded": {"schema": {
    "type": "object", "additionalProperties": _TEXT}}}}


def openapi() -> dict[str, Any]:
    """Return the description of all routes below `/_needle/`."""
    return {"openapi": "3.1.0", "info": {"title": "Needle host", "version": "1"}, "paths": {
        "/_needle/visit": {"post": {
            "summary": "Count a visit", "responses": _answers(200, 204, 400, 413, 429, 503),
            "requestBody": _json(page=_TEXT, variant=_TEXT, query=_TEXT, **{"from": _TEXT})}},
        "/_needle/goal": {"post": {
            "summary": "Count a click", "responses": _answers(204, 400, 413, 429, 503),
            "requestBody": _json(page=_TEXT, variant=_TEXT, goal=_TEXT)}},
        "/_needle/events": {"post": {
            "summary": "Note how somebody goes about a page",
            "responses": _answers(204, 400, 413, 429, 503),
            "requestBody": _json(page=_TEXT, variant=_TEXT, told={"type": "array"})}},
        "/_needle/call/{id}.{key}.gif": {"get": {
            "summary": "Call in what was reached on a page made elsewhere",
            "responses": _answers(200, 400, 404, 429),
            "parameters": [*_in_path("id", "key"),
                           {"name": "needle", "in": "query", "schema": _TEXT}]}},
        "/_needle/lead/{form}": {"post": {
            "summary": "Take a lead", "parameters": _in_path("form"), "requestBody": _FORM,
            "responses": _answers(200, 303, 400, 404, 413, 422, 428, 507)}},
        "/_needle/part/{form}": {"post": {
            "summary": "Take part of a lead", "parameters": _in_path("form"),
            "requestBody": _FORM, "responses": _answers(204, 400, 404, 413)}},
        "/_needle/token/{form}": {"get": {
            "summary": "Seal the beginning of a filling", "responses": _answers(200, 400),
            "parameters": [*_in_path("form"), {"name": "key", "in": "query", "schema": _TEXT}]}},
        "/_needle/confirm/{lead}/{seal}": {
            "get": {"summary": "Ask for the press of a button", "responses": _answers(200, 410),
                    "parameters": _in_path("lead", "seal")},
            "post": {"summary": "Confirm an address", "responses": _answers(200, 410),
                     "parameters": _in_path("lead", "seal")}},
        "/_needle/file/{file}/{seal}": {"get": {
            "summary": "Fetch a promised file", "responses": _answers(200, 404, 410),
            "parameters": _in_path("file", "seal")}},
        "/_needle/cart": {"get": {
            "summary": "A cart from another device, to be taken by a button", "parameters": [
                {"name": "c", "in": "query", "schema": {"type": "string"}}],
            "responses": {"200": {"description": "What is in it"},
                          "404": {"description": "Nothing is in it, or nothing is sold"}}},
            "post": {
            "summary": "A thing for the visitor's cart, or other counts of what is in it",
            "responses": {"303": {"description": "To the page with the cart"},
                          "400": {"description": "No such post"},
                          "404": {"description": "Nothing is sold"}}}},
        "/_needle/order/{lead}/{seal}": {
            "get": {"summary": "An order, for whoever has its link", "responses": {
                "200": {"description": "The order"},
                "410": {"description": "The link is dead, or the person was erased"}}},
            "post": {"summary": "Take it back, put the same into the cart, order what is offered",
                     "responses": {
                "200": {"description": "Asks whether to order what is offered"},
                "303": {"description": "To the order, to the cart, or to where it is paid"},
                "409": {"description": "What is offered is gone"},
                "410": {"description": "The link is dead, or the person was erased"}}}},
        "/_needle/orders": {
            "get": {"summary": "Ask for all of one's orders", "responses": {
                "200": {"description": "A form for an address"},
                "404": {"description": "This shop writes no letters"}}},
            "post": {"summary": "Have a link to all orders of an address sent to it", "responses": {
                "200": {"description": "The same whether there are any"},
                "404": {"description": "This shop writes no letters"},
                "429": {"description": "Too many were asked for from here"}}}},
        "/_needle/orders/{lead}/{seal}": {
            "get": {"summary": "All orders of a person, for whoever has the letter", "responses": {
                "200": {"description": "The orders"},
                "410": {"description": "The link is dead, or the person was erased"}}}},
        "/_needle/pay/{lead}/{seal}": {
            "get": {"summary": "Lead to where an order is paid", "responses": {
                "200": {"description": "Leads on to the payment service"},
                "303": {"description": "To the order: it does not wait to be paid"},
                "410": {"description": "The link is dead, or the person was erased"},
                "503": {"description": "The payment service does not answer"}}}},
        "/_needle/paid/{service}": {
            "post": {"summary": "A payment service's signed call", "responses": {
                "204": {"description": "Taken, however often it comes"},
                "401": {"description": "Its signature is wrong, or too old"},
                "404": {"description": "No such service, or no such payment yet"}}}},
        "/_needle/health": {"get": {"summary": "How the host fares",
                                    "responses": _answers(200, 503)}}}}
