"""The place in the house: every page of a brew day hangs on it."""

from flask import Blueprint

bp = Blueprint("brew_day", __name__, url_prefix="/brew-day", template_folder="templates")
