"""The place itself: its addresses are added by its modules."""

from flask import Blueprint

bp = Blueprint("instruments", __name__, url_prefix="/instruments", template_folder="templates")
