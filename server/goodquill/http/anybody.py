"""Endpoints for whoever comes."""

from __future__ import annotations

from rest_framework.views import APIView


class ForAnybody(APIView):
    """No session counts here, and none is read: who may ask is told by what is sent, or nobody is refused."""

    authentication_classes = ()
    permission_classes = ()
