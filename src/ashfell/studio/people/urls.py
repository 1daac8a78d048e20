"""Addresses of people: one's account, members of a project, invitations."""

from django.contrib.auth import views as auth
from django.urls import path

from ashfell.studio.people import account, members, second, sharing, together

SENT = {"template_name": "people/reset.html", "email_template_name": "people/reset_mail.txt"}
ASKED = {"subject_template_name": "people/reset_subject.txt", "success_url": "/reset/sent/"}
CHOSEN = {"template_name": "people/reset_choose.html", "success_url": "/sign-in/"}

urlpatterns = [
    path("account/", account.account, name="account"),
    path("account/sign-out-elsewhere/", account.sign_out_elsewhere, name="sign-out-elsewhere"),
    path("account/second/", second.settings, name="second-settings"),
    path("second/", second.second, name="second"),
    path("reset/", auth.PasswordResetView.as_view(**SENT, **ASKED), name="reset"),
    path("reset/sent/", auth.PasswordResetDoneView.as_view(template_name="people/reset_sent.html"), name="reset-sent"),
    path("reset/<uidb64>/<token>/", auth.PasswordResetConfirmView.as_view(**CHOSEN), name="reset-choose"),
    path("invited/<str:text>/", members.invited, name="invited"),
    path("shared/<str:text>/", sharing.shared, name="shared"),
    path("shared/<str:text>/<int:picture>.png", sharing.shared_image, name="shared-image"),
    path("projects/<int:project>/links/", sharing.links, name="links"),
    path("projects/<int:project>/links/make/", sharing.share, name="link-make"),
    path("projects/<int:project>/links/<int:link>/withdraw/", sharing.withdraw, name="link-withdraw"),
    path("projects/<int:project>/here/", together.here, name="here"),
    path("projects/<int:project>/members/", members.members, name="members"),
    path("projects/<int:project>/members/invite/", members.invite, name="member-invite"),
    path("projects/<int:project>/members/leave/", members.leave, name="member-leave"),
    path("projects/<int:project>/members/<int:member>/role/", members.change_role, name="member-role"),
    path("projects/<int:project>/members/<int:member>/remove/", members.remove, name="member-remove"),
    path("projects/<int:project>/members/invitations/<int:invitation>/", members.withdraw, name="member-withdraw"),
]
