"""Shapes of accounts, sessions and the network."""

from rest_framework import serializers

from darre.accounts.models import LONGEST_NAME, Role

LONGEST_PASSWORD = 200


class Password(serializers.CharField):
    """A password as it is typed, spaces and all."""

    def __init__(self) -> None:
        super().__init__(max_length=LONGEST_PASSWORD, trim_whitespace=False)


class SessionSerializer(serializers.Serializer):
    """Who one is here. `open`: other devices are let in, so that everyone signs in; else name and role are null."""

    open = serializers.BooleanField()
    signed_in = serializers.BooleanField()
    name = serializers.CharField(allow_null=True)
    role = serializers.ChoiceField(Role.choices, allow_null=True)


class SignInSerializer(serializers.Serializer):
    """Name and password."""

    name = serializers.CharField(max_length=LONGEST_NAME)
    password = Password()


class NewPasswordSerializer(serializers.Serializer):
    """The present password and the next."""

    old = Password()
    password = Password()


class JoinSerializer(serializers.Serializer):
    """What the invitation brought along, and the password that is chosen."""

    secret = serializers.CharField(max_length=200)
    password = Password()


class AccountSerializer(serializers.Serializer):
    """An account. `joined`: a password was chosen."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    role = serializers.ChoiceField(Role.choices)
    joined = serializers.BooleanField()
    last_login = serializers.DateTimeField(allow_null=True)


class InviteSerializer(serializers.Serializer):
    """Whom to invite, and as what."""

    name = serializers.CharField(max_length=LONGEST_NAME)
    role = serializers.ChoiceField(Role.choices)


class RoleSerializer(serializers.Serializer):
    """Another role."""

    role = serializers.ChoiceField(Role.choices)


class InvitationSerializer(serializers.Serializer):
    """An invited account and what lets them in: the end of the address, which no server or log gets to see."""

    account = AccountSerializer()
    secret = serializers.CharField()
    address = serializers.CharField(allow_null=True)
    svg = serializers.CharField(allow_null=True)


class TokenSerializer(serializers.Serializer):
    """A token of one's own."""

    id = serializers.IntegerField()
    name = serializers.CharField()
    made_at = serializers.DateTimeField()


class NewTokenSerializer(serializers.Serializer):
    """What the program is that will use it."""

    name = serializers.CharField(max_length=LONGEST_NAME)


class MadeTokenSerializer(serializers.Serializer):
    """A new token, and the secret that the program sends; it is told this once."""

    token = TokenSerializer()
    secret = serializers.CharField()


class NetworkSerializer(serializers.Serializer):
    """How others reach Darre. `svg`: the first address as a code to scan; `taken_port`: the one at which they were to
    come in, where another program has it.
    """

    open = serializers.BooleanField()
    has_owner = serializers.BooleanField()
    addresses = serializers.ListField(child=serializers.CharField())
    svg = serializers.CharField(allow_null=True)
    fingerprint = serializers.CharField(allow_null=True)
    own_certificate = serializers.BooleanField()
    taken_port = serializers.IntegerField(allow_null=True)


class OpenSerializer(serializers.Serializer):
    """Whether others are to be let in."""

    open = serializers.BooleanField()
