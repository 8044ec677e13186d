"""The place in the house: every page of the cultures hangs on it."""

from flask import Blueprint

bp = Blueprint("cultures", __name__, url_prefix="/cultures", template_folder="templates")
