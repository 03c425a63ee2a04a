/**
 * Small FLAC files of 700 frames at 8000 Hz that use what our own encoder does not, with the SHA-256 of their
 * samples as sessions file them.
 */
export const flacFiles = [
  {
    what: '16 bit, stereo; left and side, predicted by up to 12 coefficients',
    bits: 16,
    channels: 2,
    sha256: '618e2b4ba6ea211cdfc0391fa450c933b15fb72e8e118daf0d0b38f7b3312888',
    base64:
      'ZkxhQwAAACIBAAEAAAEyAAGZAfQC8AAAAryYlk8zpjpns2A1dEZO06GZhAAAKCAAAAByZWZlcmVuY2UgbGliRkxBQyAxLjQuMiAy' +
      'MDIyMTAyMgAAAAD/+ISoAJpCFwwUvnM94QDQy2i8AhN5aUeT+V4KLlHqw7dGJYaBjmEtvNE//oJQsCAfmopeMPF3OVOGOhrIovNX' +
      't4ahCH9vaCbcF0WlMS5IudC/0Y6DfGunq6h+RjM8pYE/i/PqaRV9VEQV1LKsPgpP5eFZ25oz8eXU4mx6JZjVTM68nghj832SAbj8' +
      'LSH3EPGURmQMxDslAQYBVZRuSB6glZy91ZAl6FE6kRovrghjBacsSASCywr7Ew6ManPzRvGU2uopjUdeaMj2kGxJMvgu1l86F4yH' +
      'i9ENqMpPZ5LhPu9zkX2UhxsNSd9oHGZ4arCiQLj+iSno1HAXSUfEIzrpXXTtgElzEnGqYNBXNAwjL97Db0EBCAGQALRzPeEAUJqi' +
      'ViIiszKz5s13vpNuy80TJtlmiSNEiJ2zdk5oYnROsZFZqkhonRqbk5GM1MTu1vzys0TJlWpYTwjN6qWozY0IqTErpr1zZYR6ZCMh' +
      'OQmJWkQlpF6UlSbsiUjeonqm6LGrJPFdvtmR5ErZCIbRfE6rSEm2iyf/+ISIATNCAg8DYnM9YYL27gpGKj0QrOp491TgolIsNVpV' +
      'OMlPYU74ovCx7hwXad5W6sXetG1dNi8b+OqVyi1+2XI2GkvE+l2Tmei9UbDW7jQTgb+Qt5vVb7AQUYmUEuIBZdiFbtYroPOclZE0' +
      'y4b60XsVUOmvgUTIJC56mhtdFG50W1INL4C389Hgbrc/lxifOIqvvqzWFeKID3QgGpJOZFOv0j1TNMMWM8NCNmFavCTV0dRezmEy' +
      '0tSmhlee2v746kGmUDQ5jTISRJYHdLoHBhE2r7mmAXxGJaMa3XwnGw1GEj/L+IR/bZEJh2EFKqNVkwELuXvXa+RXuD8Es1iW6HIb' +
      'lQYkPMiCwJGnAWvbmWvR2yf6pXOMtkHhC/+f/9pzPOGCSJDIjEJZyZDM7UliZKibybspE3yybxW/pFmVE/IqM2saMxGNSLVjTz9F' +
      'meR3VVavFXp3j1UbMpGRbhepvaEoIoothCQKZILCHmcMTQoWzE4k3CE2WEFihKFCgqwiROyJBHkChEXkkmRBGEmgieEv2LmES7TE' +
      '//hkiAK76kL6ePqvcz1hANsRlkYRpG2gMCmXjn3KB5JFQsngZOtA0iAbE4bhomFdJ1CYSColoBxwmntGZTt8cDk5KdTyTiMqLp4P' +
      '9qhk5r8naIBmqmc1HM6sRUIxUEj+NXEhC1SI3suyG6CVhPveQkyTkQmZGNysWicdsJDU7bcfJnK8RnYTS29PrZpJQ3hZRB3RLGtd' +
      'QhIGYnWC2ViEQ2vcgLbAKEw9fmAIIhYiURxneRAwQ/fkSf5GO7aVmpRalZmehXOEwwHVXt5GERxJNVDs4oX/+v/6OZ4xQByEKQRB' +
      'ChPRw0MIeTKChGiEcvyiBE5jQQyEYTCWWQvIKIuMjhCFrbreIQpmhGTE2MlEbnqCPZiCCwuECtCwmNoUmJworZVOTshEeIezlAkI' +
      'RmFkQJ28',
  },
  {
    what: '24 bit, mono, of which the last four bits are never used',
    bits: 24,
    channels: 1,
    sha256: '36dd3e6d17637e0329b11b23ad31ecfe1c68dde855a749ac67d534a1e4912e30',
    base64:
      'ZkxhQwAAACICQAJAAAC/AAMwAfQBcAAAArwfeIYEeHx2lIbJ6B8NE3rxhAAAKCAAAAByZWZlcmVuY2UgbGliRkxBQyAxLjQuMiAy' +
      'MDIyMTAyMgAAAAD/+CQMAJ5DEJxACMoNY9DYYYEjH0+MhI3XobS4VbmhOAjycSJzYC20340pnDXRECEnTrBikz48eZLM0hvUIx9J' +
      'f5Bx5e1JKKJJRdrhBLHcEMl+ZgmQhh0VqE4YELhYdmlZdih9kbgH2qKIMbuY60xGDiWqC8qDVmiblUUncmbJveMTO0PVVUiZTDYf' +
      'IMdeUoeEUBnh4q+XnKA+D7hEbD/Xau7YSOp5Ct9l4v3vzhkBNNvuGo8LJqqi3fcEbs1yk5jLSZc81Dh65jry9tok2ZN2xOeV09uD' +
      'TdLRzmlTMCQGq9syvMXpvnIyLu8ghSEzhDnyRVUloCQuRScap8G/0oawqTS0YlVoaPQIfbUIEJZ8EoPR0CiZBBZpB8r8TOIKIRkF' +
      '7JPtDMByPfclsUwoiRP5JJXJWR1Kp0hGrsMKKttC5jk+O8tpBnuoUKUE8z8/xQTmnrdegUtU3BgZcZM5+r46NIZdqbhFqzSLe4I5' +
      'Lnho9XxG5nIFGM6XPmqFpBLAtfI2Wo9lhkRHCZC9KcJ6LIkJEloFNv8482ok3pFo24pA9OrVlOsaBXBIC57kyosA/eEDuyqMLI5P' +
      'xIOcmID6P0HdGXmKlYv+a4k3ej4XOm3WnGRx5JeOH2ESK9PoRmZYqzSp1ntuAjd+p9pR6rS52z8eI2aR/6NKdSQptfaQEzKMaquc' +
      'opMdVyb8i5NbLpc0W5YiT2+mvLZKcfoIw5s9w4T6CVlEkHbW1piKhCsJTEn0hJN1RmnwhROR3YmJ4ELcQ+RyhcjZ00y23hLiajjZ' +
      '0YbvTZ5QUL4LOvUnZDpmcJHPtfZMbHRGgk9PTMuWJnT8zPHIFHr6Ism/IHWs8963l6J+6U2Vy595fJNdHdul8TkLWp8WETyuRQJv' +
      'xCbMROZqq+CFCaTaCA+BPM0NaSL1gHQI4LUvXei8Zl+IrUlASWY78h46ThNiymUs7fGQVapW8En4VNMsVGtPvhGCkombvxeD4JIi' +
      'gpT83Vqg4ojb5TIUv2u1cstJTr8EN/YB3i6y2FfFcmuGjyeY27hQlp1HlZdz0cGIHPujJXRZ9i5Qw6UjjORVWILQAbovFqQg+kZo' +
      '87j/+GQMAXs7Qx/3A/8sLWO5OHGBItUsAYi4z+EeMTU7UL+pmcgVrtJlz9KN4rGXRPKKcPMnFOMe5ms9wOHwymjDCyC5FVxEIQkl' +
      '5w1rtbZUGMcUanvcyo2oTYxv6Dh6mPjTovwyEqYsU74p00BqN++tOdBJhcgX2mEZu2Bh6Q5HfWIDo0f+rN/zfU5e/Dz2UIMP20ih' +
      'GhqwjYSF5+NR4S26ITAon8D/BHR35Vwm4w5xCdEPR/48BKNPWLnt1ZDkNQ==',
  },
  {
    what: '16 bit, mono noise that is stored as it is',
    bits: 16,
    channels: 1,
    sha256: '7d109732f85dced5b35367a6bda339b113165487cdcb1f29aafa7504330d7788',
    base64:
      'ZkxhQwAAACIAwADAAAECAAGJAfQA8AAAAry79rZlKqCy9+nJeaUWv3cNhAAAKCAAAAByZWZlcmVuY2UgbGliRkxBQyAxLjQuMiAy' +
      'MDIyMTAyMgAAAAD/+BQIACsCqOwvefgyhL4599CahTEQ/AdMZmvYgZlkTQyvOSn8TEIhTJBq8uVW2OVhKP9a/aiIdL+Til8isYxp' +
      'U8+fyWNVMk1UytiSlcecEp8BQcVyjuankK1beytf5wFU/4kJiQ50c8tVEPp2SQKu2+aP5SFX8Tk/5e/Ak5g5wPOD5sfH6aQY99Tj' +
      'h0DIjTy2DZUsIUsLMNcO06zNuboZlrkh4vD74V6c/50vJo82NFsygr4KQxFi3HkWBs9vKqIm8yubXd3IZAN6DOHiIX1jbHkDz/CO' +
      'Y9FW1UY/EI7KdwNdcPLii3ml8LiA6KcfYU0TTEkIac7aC8cTcM+I+lKaG9rhDNVEjl6o3sVGLCRfifQ+/9+N2dePOUMim6t/A1LN' +
      '5eiODmwp5fSgKRapp3YoMutU/u+YOSYvc2tQbLWfjgRwdfzgaOcRFx9679HbIgt40vehqOZbSLGS2sRH4l0+IsP4ISOE6JLazwdA' +
      '2o1jTOk/E/RLdBx8Q094Vy7U/7sQYVtkLc3Fg67/+BQIASwCW39QnbJ9B7WbLiBZdPCk3rPw9tlSmMjDIjLhDzDU9J/40FWKhu7v' +
      'GZpp7vZTLW94sDhWCEl7RGS2cNMBU20uE/YRfp354SQKRECKmdAZPk5fIpmUeE76JUAtnp9ZzhJBPAg8JaCQoohH3RptnkjPPDw3' +
      'LYklBqfAbVJi1fNPfMVw+63uya5iD2nj7SNBzhOfsHydeP8Z9nQxRNYWUMRsvlixg0bdczWf5HtY53BFEFZyc3Rrf3xa/iTpJkuE' +
      'heTLNHDa+72Tq7bHR5tqcMK9v+YpHPVIp/Wg5qbY5eJkywgi/CNbJUXuUFdvudd72+e3fR7BIoaRchN6YqrRX7rJE4Ce+jUJQKLu' +
      'b5hg2xumDZwWXCp9TqrnmamEcHvzXiwLRxgM1/e5yorf68Spi7lCTl5mohn/77jtYu/11fWkxI5ttPgOeGWhps4LgOsZJwwpL0XQ' +
      'f6LTdE0bDN5KgGPGukk2KChsfYA9FR54zoKMRQzwfZ3BSUqzfCvAhMrO8KosPf7/+BQIAiUC6+W49W60uc6lzLcFV/f6VvcUEWpu' +
      'zfuxNHDbwZ4iCgKFhlW/M0F9V+Y5TbhbA0zh5ZAyi1hSna96A00ejE6E3cNfGVnn27VYEgw2mt7GURAL9+ewdE2VsUbgmlB5SZzX' +
      'MDVuDZO358yaazLWJ9LuvsfQ1ui6uGt1Suu8Q+Zul5CUUu2sd4kWMoX8qx3MQsFK5CBFvw0DEj37i8NmVo1eJVV3QYBti52K0OSP' +
      'mhOo95H5bflGlinIw/Omt6iuAV011u4CXElxFk7Myzf6Vxwz8s2/FggqnPlGU6F4c5KcZN7Ze5iLOHE0f4DWQ25hNGxKtJkAFqhW' +
      'GYQhZJy8y7aIwNtkG9ohQaebCal4o84GyfrvAjr7VsmKvahUUuqiJf/0eG4zmQQX+p75baXJayaJ3QuBScdG7nmq2VZA70A8BRvJ' +
      '4/aWWql0B7fHgIqXrtxQRhqPCbM8vpCq0WQ4Eda2VMaGyx54LfXW4dyGF6QwxTToVyzLX6S9J3ip8bMkRvU6yI7/+GQIA3u6AqKc' +
      'Rv/pWt2GqlTbGzLD++WpOuSf+aFEr2RINc6GZUbtL+wPidRl5BY5UyvHlv/LQw1K95F4Jm/mtJN0dqiEtAw9vbmIWQL+BQyAi8k1' +
      '9/Gpxo4GMHurhQ017MkcvHyos/jVqUrwbDtPVwFWTOZEgPkUivCJribV3Jo/BqsVodSBS3jync1Vp3Vhew4BT/q+jSRGtisjCp+W' +
      '2OyXkojOCpM9bzjPO/IpcuoXPRVMrwNEcEdWIrdR6vaO3l2+zFMhiFP9jrEB/mPFhHhVNkd7m38gla8AcW1sO152kqDYCdN+8etW' +
      'jL6rlG75xI+TnPOnGGqyXs3hWGMkcCw=',
  },
  {
    what: '32 bit, stereo; middle and side, left and side',
    bits: 32,
    channels: 2,
    sha256: '1de75a195c7f6b6358a0db098faa3c1dc8ef1f025c85f17dc958fe933f1f4e2d',
    base64:
      'ZkxhQwAAACIBAAEAAAOnAATrAfQD8AAAAry5W5mSVzeUYqCxb/6bNo01hAAAKCAAAAByZWZlcmVuY2UgbGliRkxBQyAxLjQuMiAy' +
      'MDIyMTAyMgAAAAD/+ISOAEpCBV1KgATT9kDFveMD6FD3EfLnW+IOVot5m+jYnJ7hgJbnwETgQbVp3vlLy7BSNBl4nd07IFo8JwZy' +
      'fgMLMREkihIHgxXnQ2CxxGJYNnxb1iaK99cIiklTbYXwjpNR3sHY3i6V0j0yIx3gg2NuqIBKHFsVaSZMhu1hmvEfIsKYlUIooFhT' +
      'Feh7Chzz+IpacBfzO4O9DLLSdbotp7jGwLeLWriIKh4Map3ksdDzVgHVUJVdwtMFUSFRyoBvd5jsZFsfSaE03ok62j5ELTnPMeIi' +
      'xsQiZjh6UGDniWZNwIC5rFBn7cUtcYsl0SmVFS69F5UuwAa0LKxfX2KOc6KHvJRLLydKXJ0+6GML+arYENCNcRwHbjYxDZ/xtAOm' +
      'b9ou7HbQ1eTpJa5v1/+VYqnfe3pWvwMmEWIdlawQMaWkwYxpFE59il4atAXKbbCnHleLU+GiDhrnwMGmNceBUAn7PaEU4ETjNaRt' +
      'Nal65yAiceOt7m8Jix5+GFjOIwMTDssn34hG4oqPyJh6IihR8G2U+/80cbe0LVZYmWrXFxQbpQF3fC5IlzT3emFZ4Ftm01/zPknY' +
      'IYC6cgJdvIjFoF+JTZi0P1ZH2qmkAtO5TZjAuXkuoqHQgoAZq591GHRhwQB/vI2G9EgF/sKEfwZRbdyBusmHYOTjwgwKGKVlXQWU' +
      '+ZN7W8gq9zXaI9pUc8UwosPXVE6yHoiOCZnbEEqkhx8M5jnlG7VOdGRJqUuGpfcMgFj3d3RB7+mVKZS+SFBTBkvo0T9WaoOKCne2' +
      'XZ5jQQbPmpgbAumZjfk1OXJQRYe9pZAS5BHE4xHpEzkewmJ2da2qIwGXKighM+XinAf4vOYCOh8DG0S6lEzSDnbArAocXAgJObnp' +
      '1umF7TmhmId6MGAvpVjVjlJ9DEhB3eNEpCfb3sthpuGmqbyRI96mHjjWEBRKaVPFPlMikj9iZhYOu/+2MD6EABV1KgAJp+zi3s2C' +
      '0Dj+1OKzn5xrOnqqCHsYDUQrxQe37l1sh2zeQKqQkYJsI6HLinT1r0n7yixe1iazf6T8Rc+BwC2o9IOLYdBJRlceFMqjGxcP8b2U' +
      'lmQPiiMiaLnzEI+PfOxZeVwbxR1SodkFVdDXOWJk1YWaHGLRbUO4NZ4+ERbfEzE6NDGGeKJdo4yR5SzTsxEBnMFuQUxS6RjU3MeU' +
      'aMmlEPhWvlERsxEJBMRqyKrUGJJP5Ruzxzul0Cx5zTTVCm1ERpFSuSUjPACuI8oQ7JLmgmO2KxYrSHxkWMbt9CpPkQPTwexDGnL9' +
      'r63AGV+a9A8JgjWCHYMWvoKUNeyR5T6jzIIqOxO3pUYu+t9qHY7F5EA3VYE679dC3yY7qTFiiHl+iKNeyZBCADLZCMTCAg+zRijk' +
      '3S5WgrF7GapKRtyCXnHtF1lIwZR6ASSMjDkKB2YAuJDFK5OsNCDkEDXcsodZbaTniEYmei2dkvz4MUSKJuvkh0y56jNzDq9VJWf9' +
      'ED7di02vx1Tk+xOLgVwDQjn3AdS034sDfjMSKPlmDSvUVohICqO2JrKap267HMGXVM2/uUlYSAT0Ya6+jWCNzEHyMpMSpZ/xkIYE' +
      'xzE/cx25jjXm553phlDXX8Bn4JK6koEYh2T+tPTX9qWB8GAfam1/IjGzR2hPyzhb5UOrjs73sXIbYwzT3B7i8SJ9lDAoAP/4hI4B' +
      'TUIAlhnPAJDXVcW74xKoUTNdSTdXcQjlqZafcDUs/con76clfBLGQ4YTNYwODCat+Nju5TBX8TvVjxKUKiGyF4ZiHWy3LlwKLtEX' +
      'nN3kS3iQiyYKCunGOBuSUVKI5GSNM934BdC8j62bV76E2fJkEU+EVGHOYWWOqBTTLxCPY7srtZJLHbKSSoQyqKgoJnBJuWY6r+aY' +
      'l19lGYpUfsvtNyQHpY7RbmPAIvP/s4mRh9Y1uMdxa/S2CG3zf5Q/hRW08lxkP5xMtaDHp66NZR8S6NJBzZ9OefIIadW7z5RoP82R' +
      'jBFK3wt2jUgfqasbRrd+W1PJEx2fyTZ7vvGCzUhklV7+7o9bisEpq1RacATKc1+MaHkwaOqYiULR9upwmVm8FYEeGwdc8O1YoodT' +
      'njDd4A1zmSd0qqIR+1Xmp4Mt31spThsYEOTAr3rlquPPStCZqabsyJW4+os2ROUIsFQ6l9UZnAw1JKiapHeC/jf/fCZoFqTFQTPy' +
      'V+/ZpZ0wbUkurb4lauyZv1N21l9JOvOkIJBKGZ0QWO/MPG03XRBUuTpmyPwW645oYsV/Ig17j47CK4jEJ3O5AXB76SrCWfqiTsTE' +
      'F06DahTR0xIDtzQGwHbLxQk/QpbN4v4J54SMmtsRGW0R4/ZBjqYj4TDeDkAukzNuv2Jl1eUjFY2jbix/P44H2WUlHNKyGA4EIZ8U' +
      'kpWZMnM7hhCs6DJydvTiLuEcQjW2OsXDdGA0rGaxP4OY90Hlqa2pmA44Qq+oxtCSWWtVOg+tY5RhzLBfs6JPeY9zoFIOHAJEzLOb' +
      '8W8V6oq20WHGWJFGLla8fxpJhjv97WQxE1AoT5TQSNpNcaCH99bNfAP9RKy0yeCB50nKxU35eDjMOpbjA6UtHSQUJ+Zwyyeu2BmQ' +
      'yy+YypNPjce+75SLkPwG4dVagRSiPzXYHMBQEXA6pcKidyclCASZEQyo5woX//qPS//65/mLeFYlAOswBarzctiLH39WQWiZESUz' +
      'TnvsGJRbuQMICVsDRQFcBI7e+yth6RrxrNF8cE7Bbw1hCjYkCEFzTDFLP/ypj0lbOz0IAhdKilsdlw4OMafRSpW0t7UyLJCZWR04' +
      'QcAnOIzpRIf3xbmi31opblVMjeS7PpG3ox5JhQDXFS7gjGZjJxXaz9DeU+BdHNZE2DO8sfCL4dncH0epeRC55n4V7hL1ImFJPrkS' +
      'mpRsru56C8UBocD+xtbKKTITGa6gmuZMSkzdjeVN50wpyZUlECJodbCRdxz1LFTqQxo6w8tHdJRPIEh5TuAvl5jYYZ2Si6wSRD+F' +
      '4Od+WEiUYi5DTNjBY5BYXvAhWJd671doaVuxlh3ZFP6Uc8dHcxEIeEuq1bsGpgWTHREJxRnacVSgcYkUUZswxJXuV64BHzzNloIB' +
      '5ReVoTEt04o4h0bFFGHgscgmJs/SRRWjBPELIyGA9YDwv+lvmkKDdtoeY4fBzafcsTG4gLKe1Ld8S+E5/QgSh+lRQUrjC/qtnUbS' +
      'Q5+hbMEKPEXqOc2pbpD/8hiTZIgquUJdHw38iS5cn5DP0slEZChxIsfhFmRU5UjoS+TwD74Q+R00SeB58yBJMUFQzbH+RMjJMjNN' +
      'iqFYkOAqVtHqwZSt6FAIUGs/65BHPUUw63s6fLuGTJlesazoaCcjOTsijZad12XA38b/+GSOAruXQgB6lIYAWRErxbzfCshRl5ui' +
      'UNf7lDbmbmtBscpDvJwkNzI/n3hV4kUcBYi1Fv/O53XEbf4tO4iLNbI2IJ1USxVXPHBhOyuD1rlZd0mCirrLE0EbT10Q5airfkkg' +
      'lhwsWmvcgkf0RM0ZzohUHaOeXbHB9Ge2UJmEQL7VGmaXpXn6xGFtgnLtVDietq08cXsxvmtpSXtkuUWc9MBN8MsbHZVcLTDOvE/4' +
      '1Iv6d8AspcOR+AEXrA0M6GehGYCIJHJMQABPThrn84eZjomOhq2RB5zbAgxf5PJGhaf5tc2hih7a7ta3erj584FLvEbbfwRBc0qE' +
      'fiNYiTq4oR2O4zFDZ90ThTM2JJduLV6p908G2tyINl4Seooxk1x0GKaNPa6YaB1KETxVNFVeWLgEbjdEyIv4kZdPJXdGf7oHdCel' +
      'eblJuwxH8x/NqT2OiyrreOF4t1tSj1RV8+EraCIH9yVEzNHJcJFIMn+cNaZ0jFF0iLKXMi6c7/74NfPNIbQvrBwkUCInsmgm6hLn' +
      'zNYBe/tvWCbqRp8z4J/WXceK1yssKJwYcLPm2nFIUYmTCTc3Cqpckv0Kfg0LXXC941tGpeOmJ8NQ4f4JzXieq9OtOnZ3uez7fKiL' +
      'QNWXvQilXQiKzE1KhFYUQFe/sdIsRI8sydndqGJyfr60Z8MLbDPKdkuSvQCJLR5k2QrgGDR6+PnVY/zHqceWigAAcIMAABmeiD0j' +
      'Xw+ftdeqUWkWXLV3AH7dHEyajVKUZFQWTWc78s+FkXSTIUxVsqNmF3jFWLXvc5VTxKJKquEBoZaz27jB5ak4RgXmR/ccXmw3o3VA' +
      'ZH8fxwwDhf2q+VExeIHpT6/bfPLcM0Pn3S12XWEQXjYtyjisHPly7WevYettlIqvGfbRRzYtkqrWH5DRjopBUcIcke9odY9wbJyJ' +
      'kFREF/SbMMv1ZwO2mEsmHdq83Nqngr6fq9zug7dCfpUthJp5ady5epuYT2ciDo4pwXVuhfCjNs6kms+rutbfJHrQGly1297MsTo7' +
      'fl/rQA1Jpotc3JkOlkmm8V6mF/xypI8KA+jC9cXRqpxekmwdbHjZLefZyrqk9hIre5kq11Id6TfZ3kC0R+hUjppQCPdbqInn7FS/' +
      'bXQfLkUwo2wlxMiJzI22v/n7nLyZxRtrFnCpdtLLwXkh/fhvbzgFUpTqMo0/lfIrAT11sqY/fYFQaDkRPsQq11zGDevCTLM9+SIm' +
      '0wnhytaqqEmK2A==',
  },
]
